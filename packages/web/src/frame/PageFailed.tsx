import { isRouteErrorResponse, useRouteError } from 'react-router';
import { Button } from '../parts/Button';
import { usePageTitle } from '../parts/usePageTitle';

/** Shown in place of a page that could not be drawn: what happened, and how to go on. */
export function PageFailed() {
  usePageTitle('This page could not be drawn');
  const error = useRouteError();
  const said = isRouteErrorResponse(error)
    ? `${error.status} ${error.statusText}`
    : error instanceof Error
      ? error.message
      : String(error);
  return (
    <main className="mx-auto flex max-w-[620px] flex-col gap-3 p-8">
      <h1 className="font-serif text-xl font-[650]">This page could not be drawn</h1>
      <p>
        That is a defect of the program, not of what you did. Drafts and posts are kept by the
        server and are as they were.
      </p>
      <p className="font-mono text-sm break-words text-ink-2">{said}</p>
      <div className="flex gap-2">
        <Button onClick={() => window.location.reload()}>Load it again</Button>
        <Button look="quiet" onClick={() => window.location.assign('/')}>
          To the workspaces
        </Button>
      </div>
    </main>
  );
}
