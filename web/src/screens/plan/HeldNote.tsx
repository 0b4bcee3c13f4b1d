import type { PlanTried } from '@mile-mark/contract/plan';
import { ApiProblem } from '../../api/client.ts';
import { formatDate } from '../../ui/format.ts';
import type { Held } from './Board.tsx';
import { axlesInWords, moreOrLess } from './figures.ts';
import { SHARE_WORDS } from './shares.ts';

/** What a visit that is held over a day would cost there, and break; keeps its place and size while it is asked. */
export function HeldNote({
  held: { item, date },
  tried,
  error,
  waiting,
}: {
  held: Held;
  tried: PlanTried | undefined;
  error: Error | null;
  waiting: boolean;
}) {
  const problem = error instanceof ApiProblem ? error : undefined;
  const here = date === item.date;
  return (
    <div
      role="status"
      aria-live="polite"
      className="mt-2 grid min-h-20 grid-cols-[auto_1fr_auto] items-start gap-x-6 border-t-4 border-ink bg-raised p-3"
    >
      <p>
        <span className="figures text-base font-semibold">{item.unit}</span> {axlesInWords(item.axles)}
        <span className="block font-semibold">
          {here ? `on ${formatDate(date)}, where it is` : `to ${formatDate(date)}`}
        </span>
      </p>
      <div>
        {problem && <p className="font-medium text-brick">{problem.message}</p>}
        {!problem && !here && tried && (
          <>
            <p>
              <span className="figures text-base font-semibold">{moreOrLess(tried.difference, tried.currency)}</span>
              <span className="text-soft"> {sharesInWords(tried)}</span>
            </p>
            {tried.breaks.map((text) => (
              <p key={text} className="font-medium text-brick">
                {text}
              </p>
            ))}
          </>
        )}
        {!here && !tried && !problem && <p className="text-soft">{waiting ? 'Weighing …' : ''}</p>}
      </div>
      <p className="text-right text-soft">
        <kbd className="figures">← → ↑ ↓</kbd> another day
        <br />
        <kbd className="figures">Enter</kbd> put it there, <kbd className="figures">Esc</kbd> leave it
      </p>
    </div>
  );
}

const LEAST = 0.5;

/** What makes the difference, largest first. */
function sharesInWords({ shares, currency }: PlanTried): string {
  const own = Object.entries(SHARE_WORDS)
    .map(([name, words]) => ({ words, amount: shares[name as keyof typeof shares] }))
    .filter(({ amount }) => Math.abs(amount) >= LEAST)
    .sort((a, b) => Math.abs(b.amount) - Math.abs(a.amount));
  return own.length < 2
    ? (own[0]?.words ?? '')
    : own.map(({ words, amount }) => `${words} ${moreOrLess(amount, currency)}`).join(', ');
}
