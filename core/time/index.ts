/** Moments as people of a place say them. */
export { dayIn, isTimeZone, machineZone, minuteIn, spokenIn } from './zone.ts';
