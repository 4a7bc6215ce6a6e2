import { createBrowserRouter, Link } from 'react-router';

import { Loading } from '#web/ui';

import { Home, Shell } from './shell.tsx';

const NotFound = () => (
  <p>
    There is no such page.{' '}
    <Link className="underline" to="/">
      Go to the start
    </Link>
  </p>
);

const Broken = () => (
  <main className="mx-auto max-w-md p-8">
    <h1 className="mb-2 text-xl">This page broke</h1>
    <p>
      Nothing was lost.{' '}
      <a className="underline" href="/">
        Load it again
      </a>
      ; if it breaks again, tell your instructor what you did.
    </p>
  </main>
);

/** Pages are loaded when they are first opened. */
export const router = createBrowserRouter([
  {
    path: '/arrive',
    errorElement: <Broken />,
    hydrateFallbackElement: <Loading what="Zorvet" />,
    lazy: async () => ({ Component: (await import('#web/school-site')).ArrivePage }),
  },
  {
    path: '/',
    element: <Shell />,
    errorElement: <Broken />,
    hydrateFallbackElement: <Loading what="Zorvet" />,
    children: [
      { index: true, element: <Home /> },
      { path: 'desk', lazy: async () => ({ Component: (await import('#web/desk')).DeskPage }) },
      { path: 'exercises', lazy: async () => ({ Component: (await import('#web/exercise')).ExerciseListPage }) },
      { path: 'exercises/schedule', lazy: async () => ({ Component: (await import('#web/schedule')).SchedulePage }) },
      { path: 'exercises/:id', lazy: async () => ({ Component: (await import('#web/exercise')).ExercisePage }) },
      { path: 'exercises/:id/edit', lazy: async () => ({ Component: (await import('#web/editor')).EditorPage }) },
      { path: 'assignments/:id', lazy: async () => ({ Component: (await import('#web/assignment')).AssignmentPage }) },
      {
        path: 'assignments/:id/questions',
        lazy: async () => ({ Component: (await import('#web/question')).QuestionsPage }),
      },
      { path: 'attempts/:id', lazy: async () => ({ Component: (await import('#web/review')).ReviewPage }) },
      { path: 'grades', lazy: async () => ({ Component: (await import('#web/gradebook')).GradebookPage }) },
      { path: 'grades/:id', lazy: async () => ({ Component: (await import('#web/gradebook')).GradebookPage }) },
      { path: 'grades/:id/insight', lazy: async () => ({ Component: (await import('#web/insight')).InsightPage }) },
      { path: 'grades/:id/wall', lazy: async () => ({ Component: (await import('#web/insight')).WallPage }) },
      {
        path: 'grades/:id/students/:studentId',
        lazy: async () => ({ Component: (await import('#web/gradebook')).StudentPage }),
      },
      { path: 'people', lazy: async () => ({ Component: (await import('#web/people')).PeoplePage }) },
      { path: 'people/sections/:id', lazy: async () => ({ Component: (await import('#web/people')).SectionPage }) },
      // For whoever is signed in already; the others see a first sign-in there.
      { path: 'welcome', element: <Home /> },
      { path: 'join/:code', element: <Home /> },
      { path: 'service', lazy: async () => ({ Component: (await import('#web/service')).ServicePage }) },
      {
        path: 'service/school-site',
        lazy: async () => ({ Component: (await import('#web/school-site')).SchoolSitePage }),
      },
      { path: 'my', lazy: async () => ({ Component: (await import('#web/student')).WorkPage }) },
      { path: 'my/progress', lazy: async () => ({ Component: (await import('#web/progress')).ProgressPage }) },
      { path: 'my/:id', lazy: async () => ({ Component: (await import('#web/student')).ExerciseWorkPage }) },
      { path: 'my/:id/measure', lazy: async () => ({ Component: (await import('#web/measuring')).MeasuringPage }) },
      { path: 'my/:id/round', lazy: async () => ({ Component: (await import('#web/measuring')).RoundPage }) },
      { path: 'my/:id/sizes', lazy: async () => ({ Component: (await import('#web/sizes')).SizesPage }) },
      { path: 'my/:id/read', lazy: async () => ({ Component: (await import('#web/reading')).ReadingPage }) },
      { path: 'my/:id/worked', lazy: async () => ({ Component: (await import('#web/worked')).WorkedPage }) },
      { path: 'my/:id/plan', lazy: async () => ({ Component: (await import('#web/planning')).PlanningPage }) },
      { path: 'my/:id/build', lazy: async () => ({ Component: (await import('#web/building')).BuildingPage }) },
      {
        path: 'my/attempts/:id',
        lazy: async () => ({ Component: (await import('#web/student')).StudentReportPage }),
      },
      { path: '*', element: <NotFound /> },
    ],
  },
]);
