import { createBrowserRouter, Navigate } from 'react-router';
import { NotFound } from './frame/NotFound';
import { PageFailed } from './frame/PageFailed';
import { WorkspaceFrame } from './frame/WorkspaceFrame';
import { FrontPage } from './front-page/FrontPage';
import { LinkPage } from './session/LinkPage';
import { SessionGate } from './session/SessionGate';
import { SignInPage } from './session/SignInPage';
import { AlignmentPage } from './alignment/AlignmentPage';

/** Pages beside the first are fetched when they are first opened. */
export const router = createBrowserRouter([
  { path: '/sign-in', element: <SignInPage />, errorElement: <PageFailed /> },
  { path: '/link', element: <LinkPage />, errorElement: <PageFailed /> },
  {
    element: <SessionGate />,
    errorElement: <PageFailed />,
    children: [
      { path: '/', element: <FrontPage /> },
      {
        path: '/w/:slug',
        element: <WorkspaceFrame />,
        HydrateFallback: () => null,
        children: [
          { index: true, element: <Navigate to="overview" replace /> },
          {
            path: 'overview',
            lazy: async () => ({
              Component: (await import('./overview/OverviewPage')).OverviewPage,
            }),
          },
          { path: 'alignment', element: <AlignmentPage /> },
          {
            path: 'bring-in',
            lazy: async () => ({
              Component: (await import('./bring-in/BringInPage')).BringInPage,
            }),
          },
          {
            path: 'trace',
            lazy: async () => ({ Component: (await import('./trace/TracePage')).TracePage }),
          },
          {
            path: 'trace/weights',
            lazy: async () => ({ Component: (await import('./trace/WeightsPage')).WeightsPage }),
          },
          {
            path: 'findings',
            lazy: async () => ({
              Component: (await import('./findings/FindingsPage')).FindingsPage,
            }),
          },
          {
            path: 'projects',
            lazy: async () => ({
              Component: (await import('./projects/ProjectsPage')).ProjectsPage,
            }),
          },
          {
            path: 'projects/*',
            lazy: async () => ({ Component: (await import('./projects/ProjectPage')).ProjectPage }),
          },
          {
            path: 'shared',
            lazy: async () => ({ Component: (await import('./shared/SharedPage')).SharedPage }),
          },
          {
            path: 'centralise',
            lazy: async () => ({
              Component: (await import('./centralise/CentralisePage')).CentralisePage,
            }),
          },
          {
            path: 'upgrades',
            lazy: async () => ({
              Component: (await import('./upgrades/UpgradesPage')).UpgradesPage,
            }),
          },
          {
            path: 'registry',
            lazy: async () => ({
              Component: (await import('./registry/RegistryPage')).RegistryPage,
            }),
          },
          {
            path: 'diff',
            lazy: async () => ({ Component: (await import('./draft/DiffPage')).DiffPage }),
          },
          {
            path: 'lockfile',
            lazy: async () => ({ Component: (await import('./lockfile/LockPage')).LockPage }),
          },
          {
            path: 'drift',
            lazy: async () => ({ Component: (await import('./drift/DriftPage')).DriftPage }),
          },
          {
            path: 'machines',
            lazy: async () => ({
              Component: (await import('./machines/MachinesPage')).MachinesPage,
            }),
          },
          {
            path: 'archives',
            lazy: async () => ({
              Component: (await import('./archives/ArchivesPage')).ArchivesPage,
            }),
          },
          {
            path: 'merge',
            lazy: async () => ({ Component: (await import('./merge/MergePage')).MergePage }),
          },
          {
            path: 'team',
            lazy: async () => ({ Component: (await import('./team/TeamPage')).TeamPage }),
          },
          {
            path: 'journal',
            lazy: async () => ({ Component: (await import('./journal/JournalPage')).JournalPage }),
          },
          {
            path: 'file',
            lazy: async () => ({ Component: (await import('./file/FilePage')).FilePage }),
          },
          { path: '*', element: <NotFound /> },
        ],
      },
    ],
  },
  { path: '*', element: <NotFound /> },
]);
