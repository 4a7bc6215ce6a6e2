/** The routes of the server by subject: one endpoint a route, every answer checked against its schema. */
export { failureText, isSignedOut } from '#web/server';
export {
  useExercisesQuery,
  useExerciseQuery,
  useCreateExerciseMutation,
  useImportExerciseMutation,
  useCoverageQuery,
  useFurtherWarningsQuery,
  useVariantBlursQuery,
  useSectionsQuery,
  useIssueMutation,
} from './exercise.ts';
export {
  useLazyDraftQuery,
  useDraftQuery,
  useSaveDraftMutation,
  useUploadModelMutation,
  useUploadDrawingMutation,
  useRevisionsQuery,
  useRevisionQuery,
  useMakeRevisionMutation,
  usePrintKeyMutation,
} from './draft.ts';
export {
  useDeskQuery,
  useAssignmentsQuery,
  useAssignmentQuery,
  usePolicyQuery,
  useRescoreMutation,
  useRemarksQuery,
  useCollectRemarkMutation,
  useForgetRemarkMutation,
  useReviewGroupMutation,
} from './assignment.ts';
export { useAttemptQuery, useOverlayQuery, useReviewMutation, useReplyMutation, attemptApi } from './attempt.ts';
export { useWorkQuery, useWorkDetailQuery, useHandInMutation, type HandIn } from './work.ts';
export { useModelQuery, useSheetQuery, partApi } from './part.ts';
export type { User } from '#api';
