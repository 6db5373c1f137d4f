import { createBrowserRouter, Navigate } from 'react-router';
import { DiffPage } from './draft/DiffPage';
import { NotFound } from './frame/NotFound';
import { WorkspaceFrame } from './frame/WorkspaceFrame';
import { FrontPage } from './front-page/FrontPage';
import { JournalPage } from './journal/JournalPage';
import { SheetPage } from './sheet/SheetPage';

export const router = createBrowserRouter([
  { path: '/', element: <FrontPage /> },
  {
    path: '/w/:slug',
    element: <WorkspaceFrame />,
    children: [
      { index: true, element: <Navigate to="sheet" replace /> },
      { path: 'sheet', element: <SheetPage /> },
      { path: 'diff', element: <DiffPage /> },
      { path: 'journal', element: <JournalPage /> },
      { path: '*', element: <NotFound /> },
    ],
  },
  { path: '*', element: <NotFound /> },
]);
