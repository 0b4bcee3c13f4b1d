import { toast } from 'sonner';
import { request } from '../../../api/request.ts';
import { formatDate } from '../../../ui/format.ts';
import { TOAST_TO_ACT_MS } from '../../../ui/toasts.ts';

/** Where the marks of a vehicle's axles stood: ISO dates by axle, null where none was known. */
export type Marks = Record<number, string | null>;

/** How long a forecast is waited for, and how often it is asked for, ms. */
const [AT_MOST_MS, EVERY_MS] = [20_000, 700];

/** What an inspection did to a vehicle's marks, in words: `axle 1: mark 3 Dec 2026 → 11 Dec 2026`. */
function movedInWords(before: Marks, after: Marks): string {
  return Object.entries(after)
    .map(([axle, mark]) => {
      const was = before[Number(axle)];
      if (mark === null) return `axle ${axle}: no mark yet`;
      if (was == null) return `axle ${axle}: mark ${formatDate(mark)}`;
      return was === mark
        ? `axle ${axle}: mark stays ${formatDate(mark)}`
        : `axle ${axle}: mark ${formatDate(was)} → ${formatDate(mark)}`;
    })
    .join('; ');
}

/**
 * Says what became of the marks once the forecast is there, and offers to take the sheet back.
 *
 * @param before the marks the person saw when they measured
 * @param open opens their last sheets
 */
export async function tellMarks(unit: string, before: Marks, open: () => void): Promise<void> {
  const id = `sheet-${unit}`;
  const action = { label: 'My last sheets', onClick: open };
  toast(`${unit} saved; its marks are being computed.`, { id, action, duration: AT_MOST_MS });
  const until = Date.now() + AT_MOST_MS;
  while (Date.now() < until) {
    await new Promise((resolve) => window.setTimeout(resolve, EVERY_MS));
    try {
      const { refresh, axleDetails } = await request('vehicle', { params: { unit } });
      if (refresh.pending > 0) continue;
      const after = Object.fromEntries(axleDetails.map(({ axle, mark }) => [axle, mark?.markDate ?? null]));
      toast(`${unit} saved. ${movedInWords(before, after)}.`, { id, action, duration: TOAST_TO_ACT_MS });
      return;
    } catch {
      break;
    }
  }
  toast(`${unit} saved.`, { id, action });
}
