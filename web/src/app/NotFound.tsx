import { Link } from 'react-router';
import { State } from '../ui/State.tsx';

/** An address that leads nowhere. */
export function NotFound() {
  return (
    <State page title="There is no page here" what="The address may be mistyped, or the vehicle renumbered.">
      <Link className="underline" to="/">
        Go to Ahead
      </Link>
    </State>
  );
}
