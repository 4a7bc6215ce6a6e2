/** Courses, sections, and who belongs to them. */
export { createCourses, fillTimeZones, type Courses } from './courses.ts';
export { createCourseManagement, type CourseManagement } from './manage/index.ts';
export { courseRoutes } from './routes.ts';
