/** Courses as their staff look after them: title and dates, sections, who teaches. */
import { managingCourses, type ManagingCourses } from './courses.ts';
import { listingCourses, type ListingCourses } from './listing.ts';
import type { ManagementParts } from './parts.ts';
import { managingSections, type ManagingSections } from './sections.ts';
import { managingStaff, type ManagingStaff } from './staff.ts';

export interface CourseManagement extends ListingCourses, ManagingCourses, ManagingSections, ManagingStaff {}

export const createCourseManagement = (parts: ManagementParts): CourseManagement => ({
  ...listingCourses(parts),
  ...managingCourses(parts),
  ...managingSections(parts),
  ...managingStaff(parts),
});
