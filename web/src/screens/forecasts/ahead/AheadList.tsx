import { useState } from 'react';
import { Link } from 'react-router';
import type { MileMark, MileMarks } from '@mile-mark/contract/forecasts';
import type { Me } from '@mile-mark/contract/people';
import { nextThing, thicknessInWords, awayInWords, milesInWords } from '@mile-mark/contract/words';
import { useDefects, useJobs } from '../../../api/jobs.ts';
import { shareLeft, wearLook } from '../../../drawings/wear.ts';
import { DUE_WINDOWS, type DueWindow, useAheadView } from '../../../stores/aheadView.ts';
import { Button } from '../../../ui/Button.tsx';
import { Choose } from '../../../ui/Choose.tsx';
import { Field } from '../../../ui/Field.tsx';
import { daysBetween, formatDate } from '../../../ui/format.ts';
import { Failed } from '../Failed.tsx';
import { ShownWeek } from './RoadHead.tsx';
import { defectSignsOf } from './lanes.ts';

interface Props {
  depots: readonly string[];
  marks: readonly MileMark[];
  today: string;
  riskTarget: number;
  me: Me;
  failed: MileMarks['refresh']['failed'];
}

/** As many rows at first, and more at each press. */
const ROWS = 30;

/** Ahead on a phone: what is next, one row an axle, nearest mark first; no lanes. */
export function AheadList({ depots, marks, today, riskTarget, me, failed }: Props) {
  const { depot, due, find, set } = useAheadView();
  const [shown, setShown] = useState(ROWS);
  const { data: defects } = useDefects();
  const { data: jobs } = useJobs({ state: 'open' });
  const { forbids, recheck } = defectSignsOf(defects ?? []);
  const rows = [...marks].sort((a, b) => a.markDate.localeCompare(b.markDate) || a.unit.localeCompare(b.unit));
  return (
    <div className="h-full overflow-y-auto px-3 pb-4">
      <h1 className="pt-2 text-lg font-semibold">What is next</h1>
      <Failed failed={failed} />
      <div className="grid grid-cols-2 gap-2 py-2">
        <Choose label="Depot" hideLabel large value={depot} onChange={(event) => set({ depot: event.target.value })}>
          <option value="">All depots</option>
          {depots.map((name) => (
            <option key={name}>{name}</option>
          ))}
        </Choose>
        <Choose
          label="Due"
          hideLabel
          large
          value={due}
          onChange={(event) => set({ due: event.target.value as DueWindow })}
        >
          {DUE_WINDOWS.map((one) => (
            <option key={one} value={one}>
              {one === 'any' ? 'due any time' : one === 'passed' ? 'passed' : `within ${one}`}
            </option>
          ))}
        </Choose>
        <div className="col-span-2">
          <Field
            label="Find a unit"
            hideLabel
            large
            placeholder="Find a unit"
            value={find}
            onChange={(event) => set({ find: event.target.value })}
          />
        </div>
      </div>
      <ShownWeek large />
      {rows.length === 0 && <p className="text-soft">Nothing is due in this window for this depot.</p>}
      <ol>
        {rows.slice(0, shown).map((mark) => (
          <Row
            key={`${mark.unit}/${mark.axle}`}
            {...{ mark, today, riskTarget, me }}
            sign={forbids.get(mark.unit) ?? recheck.get(mark.unit)}
            booked={jobs?.find(({ unit }) => unit === mark.unit)?.day ?? undefined}
          />
        ))}
      </ol>
      {rows.length > shown && (
        <Button large className="mt-3 w-full" onClick={() => setShown(shown + ROWS)}>
          {rows.length - shown} more
        </Button>
      )}
    </div>
  );
}

interface RowProps extends Pick<Props, 'today' | 'riskTarget' | 'me'> {
  mark: MileMark;
  sign: string | undefined;
  booked: string | undefined;
}

function Row({ mark, today, riskTarget, me, sign, booked }: RowProps) {
  const next = nextThing(mark, today, riskTarget);
  const { colour, word } = wearLook(shareLeft(mark.thinnestMm, mark.serviceLimitMm, mark.newMm));
  return (
    <li className="border-b border-hair">
      <Link to={`/vehicles/${mark.unit}?axle=${mark.axle}`} className="grid grid-cols-[4.5rem_1fr] gap-x-2 py-2.5">
        <span className="figures text-xl leading-tight font-semibold">
          {mark.unit}
          <span className="block text-[13px] font-medium text-soft">axle {mark.axle}</span>
        </span>
        <span>
          <span className="figures font-semibold">
            {formatDate(mark.markDate)}, {awayInWords(daysBetween(today, mark.markDate))}
          </span>
          {sign && <strong className="ml-2 text-brick">{sign}</strong>}
          <span className="block">
            <span aria-hidden className="mr-1.5 inline-block size-3 align-[-1px]" style={{ background: colour }} />
            {thicknessInWords(mark.thinnestMm, me.thicknessUnit)}, {word} ·{' '}
            {milesInWords(mark.markOdometerMi, me.distanceUnit)}
          </span>
          <span className="block text-soft">
            {booked ? `Booked for ${formatDate(booked)}.` : next.verb === 'nothing' ? '' : next.what}
          </span>
        </span>
      </Link>
    </li>
  );
}
