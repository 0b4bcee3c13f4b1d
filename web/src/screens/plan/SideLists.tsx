import { Link } from 'react-router';
import type { Plan } from '@mile-mark/contract/plan';
import { countInWords } from '@mile-mark/contract/words';
import { formatDate } from '../../ui/format.ts';
import { ChooseVisit } from './ChooseVisit.tsx';
import { axlesInWords, sum } from './figures.ts';

/** Why a plan was made that nobody asked for: of all its depots, whichever is shown. */
export function Because({ plan: { because, state } }: { plan: Plan }) {
  if (because.length === 0 || state === 'published') return null;
  return (
    <section aria-label="Why it was made" className="border-b border-line py-3">
      <h2 className="font-semibold">Made by itself, since of the published plan no longer holds:</h2>
      <ul className="flex flex-col gap-1">
        {because.map(({ depot, what }) => (
          <li key={`${depot}/${what}`} className="border-l-4 border-ochre pl-2">
            {depot}: {what}
          </li>
        ))}
      </ul>
    </section>
  );
}

/** Axles that have no visit, with what binds and what would free them. */
export function Unplaced({ plan, depot }: { plan: Plan; depot: string }) {
  const own = plan.unplaced.filter((one) => one.depot === depot);
  if (own.length === 0) return null;
  return (
    <section aria-label="Not placed" className="border-b border-line py-3">
      <h2 className="font-semibold">Not placed {own.length}</h2>
      <ul className="flex flex-col gap-1">
        {own.map(({ unit, axle, constraint, remedy }) => (
          <li key={`${unit}/${axle}`} className="border-l-4 border-brick pl-2">
            <Link
              className="figures inline-block min-h-6 min-w-6 font-semibold underline decoration-line"
              to={`/vehicles/${unit}?axle=${axle}`}
            >
              {unit}
            </Link>{' '}
            axle {axle}: {constraint}. <span className="text-soft">{remedy}</span>
          </li>
        ))}
      </ul>
    </section>
  );
}

/** Vehicles of the depot that another one does. */
export function Elsewhere({ plan, depot }: { plan: Plan; depot: string }) {
  const own = plan.items.filter(({ lentFrom }) => lentFrom === depot);
  if (own.length === 0) return null;
  return (
    <section aria-label="Done elsewhere" className="border-b border-line py-3">
      <h2 className="font-semibold">Done elsewhere {own.length}</h2>
      <ul className="flex flex-col gap-1">
        {own.map((one) => (
          <li key={one.id}>
            <Link
              className="figures inline-block min-h-6 min-w-6 font-semibold underline decoration-line"
              to={`/vehicles/${one.unit}`}
            >
              {one.unit}
            </Link>{' '}
            {axlesInWords(one.axles)}: at {one.depot}, {formatDate(one.date)}
          </li>
        ))}
      </ul>
    </section>
  );
}

/** What the whole plan saves against staying with the one that counts, of all depots. */
function stayingInWords({ againstPublished, currency }: Plan): string {
  if (!againstPublished) return '';
  const { saves, breaks } = againstPublished;
  const costs = saves >= 0.5 ? [`cost ${sum(saves, currency)} more`] : breaks > 0 ? [] : ['cost no more'];
  const would = [...costs, ...(breaks > 0 ? [`break ${countInWords(breaks, 'rule')} as things stand`] : [])];
  return `Staying with the published plan, at all depots, would ${would.join(' and ')}.`;
}

/** What publishing would change against the plan that counts. */
export function Changes({ plan, depot, onChoose }: { plan: Plan; depot: string; onChoose: (id: string) => void }) {
  const moved = plan.items.filter((one) => one.depot === depot && one.moved !== null);
  const gone = plan.gone.filter((one) => one.depot === depot);
  const fresh = plan.items.filter((one) => one.depot === depot && one.fresh).length;
  if (plan.state !== 'proposed') return null;
  return (
    <section aria-label="Against the published plan" className="py-3">
      <h2 className="font-semibold">{plan.replaces ? 'Against the published plan' : 'Nothing is published yet'}</h2>
      <p className="text-soft">
        {plan.replaces
          ? `${moved.length} moved, ${fresh} new, ${gone.length} no longer. ${stayingInWords(plan)}`
          : `Publishing books what begins within the next weeks, and tells who works here.`}
      </p>
      <ul className="flex flex-col gap-1">
        {moved.map((one) => (
          <li key={one.id}>
            <ChooseVisit visit={one} onChoose={onChoose}>
              {formatDate(one.moved ?? '')} → {formatDate(one.date)}
            </ChooseVisit>
            <p className="text-[13px] text-soft">{one.why[0]}</p>
          </li>
        ))}
        {gone.map((one) => (
          <li key={`${one.unit}/${one.axles.join(' ')}`}>
            <span className="figures font-semibold">{one.unit}</span> {axlesInWords(one.axles)}: no longer{' '}
            {formatDate(one.date)}
          </li>
        ))}
      </ul>
    </section>
  );
}
