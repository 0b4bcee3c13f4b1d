import type { Plan } from '@mile-mark/contract/plan';
import { countInWords, dayInWords } from '@mile-mark/contract/words';
import type { PrintedDocument } from '../../../platform/documents/pdf.ts';
import { dateAfter } from '../problem.ts';

const LAST_DAY = 6;

/** A week of a plan to be hung up in the shop, depot by depot and day by day. */
export function weekOfPlan(plan: Plan, monday: string, depot: string | undefined): PrintedDocument {
  const until = dateAfter(monday, LAST_DAY);
  const depots = plan.depots.filter((one) => depot === undefined || one.depot === depot);
  return {
    title: `The plan${depot === undefined ? '' : `, ${depot}`}`,
    subtitle: `${dayInWords(monday)} to ${dayInWords(until)}, ${plan.state}`,
    foot: 'Marks are forecasts. The maker’s instructions, local codes and licensed practice come first.',
    blocks: depots.flatMap((one): PrintedDocument['blocks'] => {
      const own = plan.items.filter((item) => item.depot === one.depot && item.date >= monday && item.date <= until);
      return [
        { kind: 'heading', text: `${one.depot}: ${countInWords(own.length, 'visit')}` },
        own.length === 0
          ? { kind: 'text', text: 'Nothing is planned in this week.' }
          : {
              kind: 'table',
              head: ['Day', 'Bay', 'Unit', 'Axles', 'Hours', 'Why'],
              widths: [62, 60, 40, 40, 34, '*'],
              rows: own.map((item) => [
                dayInWords(item.date),
                item.outside ? 'outside shop' : (item.bay ?? ''),
                item.unit,
                item.axles.join(', '),
                item.hours.toFixed(1),
                item.why.join(' '),
              ]),
            },
      ];
    }),
  };
}
