import { createBrowserRouter, Navigate } from 'react-router'
import { Shell } from './Shell'
import { Wrong } from './Wrong'

/** Every view is loaded when it is first opened. */
export const router = createBrowserRouter([
  {
    path: '/',
    element: <Shell />,
    errorElement: <Wrong />,
    hydrateFallbackElement: <></>,
    children: [
      {
        index: true,
        lazy: async () => ({ Component: (await import('../features/today/TodayPage')).TodayPage }),
      },
      {
        path: 'shelf',
        lazy: async () => ({ Component: (await import('../features/shelf/ShelfPage')).ShelfPage }),
      },
      {
        path: 'shelf/new',
        lazy: async () => ({
          Component: (await import('../features/shelf/NewReferencePage')).NewReferencePage,
        }),
      },
      {
        path: 'shelf/bring-in',
        lazy: async () => ({ Component: (await import('../features/shelf/BringInPage')).BringInPage }),
      },
      {
        path: 'shelf/compare',
        lazy: async () => ({ Component: (await import('../features/shelf/ComparePage')).ComparePage }),
      },
      {
        path: 'shelf/:id',
        lazy: async () => ({ Component: (await import('../features/shelf/ReferencePage')).ReferencePage }),
      },
      {
        path: 'cards',
        lazy: async () => ({ Component: (await import('../features/cards/CardsPage')).CardsPage }),
      },
      {
        path: 'cards/new',
        lazy: async () => ({ Component: (await import('../features/cards/CardMakerPage')).CardMakerPage }),
      },
      {
        path: 'cards/:id',
        lazy: async () => ({ Component: (await import('../features/cards/CardMakerPage')).CardMakerPage }),
      },
      {
        path: 'begin/:id',
        lazy: async () => ({ Component: (await import('../features/sitting/BeginPage')).BeginPage }),
      },
      {
        path: 'sittings/:id',
        lazy: async () => ({ Component: (await import('../features/sitting/SittingPage')).SittingPage }),
      },
      {
        path: 'suspects',
        lazy: async () => ({ Component: (await import('../features/suspects/SuspectsPage')).SuspectsPage }),
      },
      {
        path: 'toolbox',
        lazy: async () => ({ Component: (await import('../features/toolbox/ToolboxPage')).ToolboxPage }),
      },
      {
        path: 'marking',
        lazy: async () => ({ Component: (await import('../features/marking/DeskPage')).DeskPage }),
      },
      {
        path: 'marking/now',
        lazy: async () => ({ Component: (await import('../features/marking/UnderWayPage')).UnderWayPage }),
      },
      {
        path: 'marking/anew',
        lazy: async () => ({ Component: (await import('../features/marking/AnewPage')).AnewPage }),
      },
      {
        path: 'marking/second/:id',
        lazy: async () => ({
          Component: (await import('../features/marking/SecondMarkPage')).SecondMarkPage,
        }),
      },
      {
        path: 'marking/:id',
        lazy: async () => ({ Component: (await import('../features/marking/MarkPage')).MarkPage }),
      },
      {
        path: 'skill',
        lazy: async () => ({ Component: (await import('../features/skill/SkillMapPage')).SkillMapPage }),
      },
      {
        path: 'skill/:courseId/:learnerId',
        lazy: async () => ({ Component: (await import('../features/skill/LogbookPage')).LogbookPage }),
      },
      {
        path: 'people',
        lazy: async () => ({ Component: (await import('../features/people/PeoplePage')).PeoplePage }),
      },
      {
        path: 'jobs',
        lazy: async () => ({ Component: (await import('../features/jobs/JobsPage')).JobsPage }),
      },
      {
        path: 'courses',
        lazy: async () => ({ Component: (await import('../features/people/ClassesPage')).ClassesPage }),
      },
      {
        path: 'installation',
        lazy: async () => ({
          Component: (await import('../features/installation/InstallationPage')).InstallationPage,
        }),
      },
      {
        path: 'trail',
        lazy: async () => ({ Component: (await import('../features/trail/TrailPage')).TrailPage }),
      },
      // Shown by the Shell while nobody has an account; whoever is signed in already is sent home.
      { path: 'first', element: <Navigate to="/" replace /> },
      { path: 'join', element: <Navigate to="/" replace /> },
      {
        path: 'account',
        lazy: async () => ({ Component: (await import('../features/session/AccountPage')).AccountPage }),
      },
    ],
  },
])
