import type { Me } from '@mile-mark/contract/people';
import type { FleetVehicle } from '@mile-mark/contract/register';
import { milesInWords } from '@mile-mark/contract/words';
import type { Column } from '../../../ui/SortedTable.tsx';
import { formatDate } from '../../../ui/format.ts';

const dateOf = (date: string | null | undefined) => (date ? formatDate(date) : '');

/** The columns of the list of vehicles, in the reader’s units. */
export const columnsFor = (me: Me, today: string): Column<FleetVehicle>[] => [
  {
    id: 'unit',
    head: 'Unit',
    of: ({ unit }) => unit,
    text: ({ unit }) => unit,
    cell: ({ unit }) => <span className="figures text-base font-semibold">{unit}</span>,
  },
  { id: 'model', head: 'Model', of: ({ model }) => model, text: ({ model }) => model, look: 'max-sm:hidden' },
  {
    id: 'depot',
    head: 'Depot',
    of: ({ depot }) => depot,
    text: ({ depot }) => depot,
    cell: ({ depot, move }) => (
      <>
        {depot}
        {move && <span className="text-soft"> · {move.begun ? `lent by ${move.from}` : `to ${move.to}`}</span>}
      </>
    ),
  },
  {
    id: 'duty',
    head: 'Duty',
    of: ({ duty }) => duty ?? undefined,
    text: ({ duty }) => duty ?? '',
    cell: ({ duty }) => duty ?? <span className="text-soft">none stated</span>,
    look: 'max-lg:hidden',
  },
  {
    id: 'look',
    head: 'Last look',
    of: ({ lastLook }) => lastLook ?? undefined,
    text: ({ lastLook }) => dateOf(lastLook),
    cell: ({ lastLook }) => (lastLook ? formatDate(lastLook) : <span className="text-soft">never</span>),
    figures: true,
    look: 'whitespace-nowrap max-sm:hidden',
  },
  {
    id: 'odometer',
    head: `Odometer, ${me.distanceUnit}`,
    of: ({ odometerMi }) => odometerMi ?? undefined,
    text: ({ odometerMi }) =>
      odometerMi === null ? '' : milesInWords(odometerMi, me.distanceUnit).replace(/[^\d.-]/g, ''),
    cell: ({ odometerMi }) => (odometerMi === null ? '' : milesInWords(odometerMi, me.distanceUnit)),
    figures: true,
    look: 'whitespace-nowrap max-md:hidden',
  },
  {
    id: 'mark',
    head: 'Nearest mark',
    of: ({ mark }) => mark?.date,
    text: ({ mark }) => dateOf(mark?.date),
    cell: ({ mark, left }) =>
      left ? (
        <span className="text-soft">
          {left.how} {formatDate(left.on)}
        </span>
      ) : mark ? (
        <>
          {formatDate(mark.date)} <span className="text-soft">axle {mark.axle}</span>
          {mark.date < today && <strong> passed</strong>}
        </>
      ) : (
        <span className="text-soft">none yet</span>
      ),
    figures: true,
    look: 'whitespace-nowrap',
  },
];
