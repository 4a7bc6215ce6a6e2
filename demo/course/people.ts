/** People of the Saltmarsh Boatbuilding School. All made up. */
export const SCHOOL = 'Saltmarsh Boatbuilding School';
export const COURSE = 'Fittings 1';
export const SECTION = 'Morning bench';
export const EVENING = 'Evening bench';

export const INSTRUCTOR = { login: 'orla', name: 'Orla Fenwick', password: 'tidewater' } as const;
/** Teaches another course of the school, and looks after the service. */
export const OTHER_INSTRUCTOR = { login: 'solveig', name: 'Solveig Garland', password: 'tidewater' } as const;
export const OTHER_COURSE = 'Rigging 1';
/** Helps in the first course: reviews, and changes no keys. */
export const ASSISTANT = { login: 'rowena', name: 'Rowena Reeve', password: 'tidewater' } as const;
export const STUDENT_PASSWORD = 'saltmarsh';

export const STUDENTS = [
  'Ansel Brody',
  'Bettina Crane',
  'Corin Dale',
  'Dagny Elm',
  'Emil Frost',
  'Fia Garrow',
  'Gil Hesper',
  'Hanne Isley',
  'Ivo Jarrow',
  'Juno Kestle',
  'Kasper Lund',
  'Lio Marsh',
  'Mira Norrland',
  'Nils Osprey',
] as const;

export const EVENING_STUDENTS = [
  'Aldo Brink',
  'Birte Cask',
  'Cajus Drey',
  'Delia Eames',
  'Edda Flint',
  'Falk Gant',
  'Gerda Holt',
  'Hugo Inkster',
  'Ida Joiner',
  'Jarl Keel',
  'Karin Loft',
  'Lars Mizzen',
  'Malin Nock',
  'Nora Oakum',
  'Otto Pintle',
  'Petra Quay',
  'Quint Rove',
  'Rasmus Stay',
  'Signe Thole',
  'Tilda Udell',
  'Ulf Vang',
  'Vera Warp',
  'Wim Yarrow',
  'Ylva Zeal',
] as const;
export type StudentName = (typeof STUDENTS)[number] | (typeof EVENING_STUDENTS)[number];

export const loginOf = (name: string): string => (name.split(' ')[0] ?? name).toLowerCase();
