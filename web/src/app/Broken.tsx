import { useRouteError } from 'react-router';
import { State } from '../ui/State.tsx';

/** A screen that failed: says what happened and what to do next. */
export function Broken() {
  const error = useRouteError();
  const message = error instanceof Error ? error.message : 'The page could not be shown.';
  return (
    <State title="This page failed" what={`${message} Nothing you saved is lost.`}>
      <button className="underline" onClick={() => window.location.reload()}>
        Load it again
      </button>
    </State>
  );
}
