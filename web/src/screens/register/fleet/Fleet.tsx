import { NavLink, Outlet } from 'react-router';
import { mayDo } from '@mile-mark/contract';
import { useMe } from '../../../api/people.ts';

const PARTS = [
  { to: '/fleet', name: 'Vehicles' },
  { to: '/fleet/models', name: 'Models' },
  { to: '/fleet/depots', name: 'Depots' },
  { to: '/fleet/people', name: 'People' },
  { to: '/fleet/gauges', name: 'Gauges' },
];

/** For who answers for the record. */
const COORDINATORS = [
  { to: '/fleet/trail', name: 'Who did what' },
  { to: '/fleet/archive', name: 'Archive' },
];

/** Fleet: what is on record once, kept up by the coordinator: vehicles, models, depots, people, gauges. */
export function Fleet() {
  const parts = mayDo(useMe().role, 'administer') ? [...PARTS, ...COORDINATORS] : PARTS;
  return (
    <div className="flex h-full flex-col">
      <header className="flex flex-wrap items-center gap-x-5 gap-y-1 border-b border-line px-4 py-2">
        <h1 className="text-xl font-semibold">Fleet</h1>
        <nav aria-label="Parts of the fleet" className="flex flex-wrap gap-1">
          {parts.map(({ to, name }) => (
            <NavLink
              key={to}
              to={to}
              end={to === '/fleet'}
              className={({ isActive }) =>
                `flex min-h-8 items-center border-b-2 px-2 touch:min-h-11 ${isActive ? 'border-ink font-semibold' : 'border-transparent text-soft hover:text-ink'}`
              }
            >
              {name}
            </NavLink>
          ))}
        </nav>
        <span className="ml-auto flex gap-4 text-soft max-sm:hidden">
          <NavLink className="underline decoration-line underline-offset-2 hover:text-ink" to="/duty">
            Duty
          </NavLink>
          <NavLink className="underline decoration-line underline-offset-2 hover:text-ink" to="/specifications">
            Specifications
          </NavLink>
          <NavLink className="underline decoration-line underline-offset-2 hover:text-ink" to="/labels">
            Labels
          </NavLink>
        </span>
      </header>
      <div className="min-h-0 flex-1">
        <Outlet />
      </div>
    </div>
  );
}
