import { NavLink, useLocation } from 'react-router';
import { Foldout } from '../ui/Foldout.tsx';

interface Place {
  to: string;
  name: string;
}

/** So many places stand in the bar of a tablet; a desk has room for all of them. */
const ON_A_TABLET = 7;

const look = (active: boolean) =>
  `flex items-center border-b-2 px-2 py-2 max-[1180px]:px-1.5 leading-6 touch:min-h-11 focus-visible:outline-white ${active ? 'border-[#f1efe9] font-semibold' : 'border-transparent text-[#d5d3cc] hover:text-white'}`;

/** The places along the top of a desk or a tablet; where they would run past its edge, the last ones stand under one button. */
export function BarPlaces({ places, questions }: { places: readonly Place[]; questions: number }) {
  const { pathname } = useLocation();
  const folded = places.slice(ON_A_TABLET);
  const here = folded.find(({ to }) => pathname.startsWith(to));
  return (
    <nav aria-label="Places" className="flex gap-1 max-sm:hidden">
      {places.map(({ to, name }, index) => (
        <NavLink
          key={to}
          to={to}
          end={to === '/'}
          className={({ isActive }) => `${look(isActive)} ${index < ON_A_TABLET ? '' : 'max-[1279px]:hidden'}`}
        >
          {name}
          {to === '/questions' && questions > 0 && <span className="figures ml-1 font-semibold">{questions}</span>}
        </NavLink>
      ))}
      {folded.length > 0 && (
        <Foldout
          name="More places"
          buttonLook={`${look(here !== undefined)} min-[1280px]:hidden`}
          look="flex min-w-52 flex-col bg-[#2b2d2f] text-[#f1efe9]"
          label={
            <>
              {here?.name ?? 'More'}
              <span className="sr-only">{here ? ' and more places' : ' places'}</span>
              <span aria-hidden className="ml-1">
                ▾
              </span>
            </>
          }
        >
          {(close) =>
            folded.map(({ to, name }) => (
              <NavLink
                key={to}
                to={to}
                onClick={close}
                className={({ isActive }) =>
                  `flex min-h-11 items-center px-4 hover:underline focus-visible:outline-white ${isActive ? 'font-semibold' : ''}`
                }
              >
                {name}
              </NavLink>
            ))
          }
        </Foldout>
      )}
    </nav>
  );
}
