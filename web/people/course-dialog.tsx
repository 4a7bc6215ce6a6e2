import { valibotResolver } from '@hookform/resolvers/valibot';
import { useForm } from 'react-hook-form';
import * as v from 'valibot';

import { FileNameRuleSchema, KeepUntilSchema, NewCourseSchema, type Course } from '#api';
import { useChangeCourseMutation, useNewCourseMutation } from '#web/api';
import { Button, Dialog, TextField, TimeZoneField, zoneOfTimes, Refused } from '#web/ui';

const FieldsSchema = v.strictObject({
  ...NewCourseSchema.entries,
  fileNameRule: FileNameRuleSchema,
  keepUntil: KeepUntilSchema,
});

/** A new course, or the words and the zone of one. */
export function CourseDialog({ course, onClose }: { readonly course: Course | null; readonly onClose: () => void }) {
  const [make, making] = useNewCourseMutation();
  const [change, changing] = useChangeCourseMutation();
  const { register, handleSubmit, formState } = useForm<
    v.InferInput<typeof FieldsSchema>,
    unknown,
    v.InferOutput<typeof FieldsSchema>
  >({
    resolver: valibotResolver(FieldsSchema),
    defaultValues: {
      title: course?.title ?? '',
      term: course?.term ?? '',
      timeZone: course?.timeZone ?? zoneOfTimes(),
      fileNameRule: course?.fileNameRule ?? '',
      keepUntil: course?.keepUntil ?? '',
    },
  });
  const error = making.error ?? changing.error;
  const { errors } = formState;
  return (
    <Dialog
      onClose={onClose}
      title={course === null ? 'New course' : course.title}
      description={
        course === null
          ? 'You teach it. Sections, students and other teachers are added afterwards.'
          : 'What pages, sheets and reports call the course.'
      }
    >
      <form
        noValidate
        className="flex flex-col gap-2"
        onSubmit={(event) =>
          void handleSubmit(async ({ fileNameRule, keepUntil, ...values }) => {
            const answer =
              course === null
                ? await make(values)
                : await change({ ...values, fileNameRule, keepUntil, id: course.id });
            if (answer.error === undefined) onClose();
          })(event)
        }
      >
        <TextField label="Title" error={errors.title?.message} {...register('title')} />
        <TextField
          label="Term"
          hint="Such as Autumn 2026; may be left empty."
          error={errors.term?.message}
          {...register('term')}
        />
        <TimeZoneField error={errors.timeZone?.message} {...register('timeZone')} />
        {course !== null && (
          <TextField
            label="Names of files"
            hint="Such as {number}-{surname}; {name} is the whole name. Empty: any name will do."
            error={errors.fileNameRule?.message}
            {...register('fileNameRule')}
          />
        )}
        {course !== null && course.forgottenAt === null && (
          <TextField
            label="Keep the work of students until"
            type="date"
            hint="After this day it is erased, with accounts that belong to nothing else. Empty: nothing is erased by itself. Save all of the course before."
            error={errors.keepUntil?.message}
            {...register('keepUntil')}
          />
        )}
        <Refused error={error} />
        <Button kind="main" type="submit" className="mt-1 self-start" disabled={making.isLoading || changing.isLoading}>
          {course === null ? 'Make the course' : 'Save'}
        </Button>
      </form>
    </Dialog>
  );
}
