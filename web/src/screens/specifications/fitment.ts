import type { Fitment } from '@mile-mark/contract/specifications';
import { formatDate } from '../../ui/format.ts';

/** What tells the variant, in a few words. */
export function fitmentInWords({ drive, wheelbaseMm, builtFrom, builtTo, axleOption }: Fitment): string {
  const built =
    builtFrom || builtTo
      ? `built ${builtFrom ? `from ${formatDate(builtFrom)}` : ''}${builtTo ? ` to ${formatDate(builtTo)}` : ''}`.replace(
          /\s+/g,
          ' ',
        )
      : null;
  return [drive, wheelbaseMm && `wheelbase ${wheelbaseMm.toLocaleString('en-US')} mm`, axleOption, built]
    .filter((part) => part)
    .join(', ');
}
