import { useEffect } from 'react';
import { RouterProvider as AriaRouterProvider } from 'react-aria-components';
import { createBrowserRouter, Outlet, RouterProvider, useHref, useNavigate } from 'react-router';
import { followServer } from '../state/serverEvents.ts';
import { HandoffScreen } from '../screens/handoff/HandoffScreen.tsx';
import { BenchScreen } from '../screens/bench/BenchScreen.tsx';
import { LineupScreen } from '../screens/lineup/LineupScreen.tsx';
import { NothingHere } from '../screens/NothingHere.tsx';
import { ProjectsScreen } from '../screens/projects/ProjectsScreen.tsx';
import { ConnectionNotice } from '../frame/ConnectionNotice.tsx';
import { useAppDispatch } from '../state/store.ts';

const router = createBrowserRouter([
  {
    element: <Frame />,
    errorElement: <NothingHere />,
    children: [
      { path: '/', element: <ProjectsScreen /> },
      { path: '/projects/:projectId', element: <LineupScreen /> },
      { path: '/projects/:projectId/bench/:clipId', element: <BenchScreen /> },
      { path: '/projects/:projectId/handoff/:handoffId?', element: <HandoffScreen /> },
      { path: '*', element: <NothingHere /> },
    ],
  },
]);

export function App() {
  const dispatch = useAppDispatch();
  useEffect(() => followServer(dispatch), [dispatch]);
  return <RouterProvider router={router} />;
}

/** Links of React Aria go through the router. */
function Frame() {
  return (
    <AriaRouterProvider navigate={useNavigate()} useHref={useHref}>
      <Outlet />
      <ConnectionNotice />
    </AriaRouterProvider>
  );
}
