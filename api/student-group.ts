/** Groups of students of a section who have other dates. */
import * as v from 'valibot';

const GroupNameSchema = v.pipe(
  v.string(),
  v.trim(),
  v.minLength(1, 'Give the group a name.'),
  v.maxLength(60, 'A name has 60 letters at most.'),
);

/** A group as it shall be. */
export const SetStudentGroupSchema = v.strictObject({
  name: GroupNameSchema,
  studentIds: v.pipe(v.array(v.pipe(v.number(), v.integer())), v.maxLength(2000)),
});
export type SetStudentGroup = v.InferOutput<typeof SetStudentGroupSchema>;

export const StudentGroupSchema = v.object({ id: v.number(), name: v.string(), studentIds: v.array(v.number()) });
export type StudentGroup = v.InferOutput<typeof StudentGroupSchema>;
export const StudentGroupsSchema = v.object({ groups: v.array(StudentGroupSchema) });

export const GroupDueSchema = v.strictObject({ dueAt: v.pipe(v.string(), v.isoTimestamp()) });
export type GroupDue = v.InferOutput<typeof GroupDueSchema>;

/** The due time of each group of the section of an assignment; null where that of the others holds. */
export const GroupDatesSchema = v.object({
  groups: v.array(
    v.object({
      groupId: v.number(),
      name: v.string(),
      students: v.number(),
      dueAt: v.nullable(v.string()),
      by: v.nullable(v.string()),
    }),
  ),
});
export type GroupDates = v.InferOutput<typeof GroupDatesSchema>;
