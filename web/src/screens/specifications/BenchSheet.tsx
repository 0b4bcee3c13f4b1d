import { milesInWords } from '@mile-mark/contract/words';
import type { CSSProperties } from 'react';
import { fitJoint, hardestMiss } from '@mile-mark/core';
import {
  benchOf,
  fitInWords,
  fitsInWords,
  headOf,
  otherUnitOf,
  type BenchAxle,
  type BenchJoint,
} from '@mile-mark/contract/specifications';
import type { BenchOfUnit } from '../../stores/bench.ts';
import { formatDate, formatTime } from '../../ui/format.ts';
import { TorqueCell } from './TorqueCell.tsx';
import { fitmentInWords } from './fitment.ts';

/** As many joints as fit a page at full size; more are printed smaller, so that a sheet is always one page. */
const JOINTS_A_PAGE = 9;

const HEADS: Record<string, string> = {
  hex: 'hex',
  'hex key': 'hex key',
  'six-lobe': 'six-lobe',
  'six-lobe outside': 'six-lobe socket',
};

interface Props {
  bench: BenchOfUnit;
  axle: BenchAxle;
  today: string;
  distanceUnit: 'mi' | 'km';
}

/** All torques of an axle, to be read from a metre away, and to be printed on one page. */
export function BenchSheet({ bench, axle, today, distanceUnit }: Props) {
  const demo = axle.joints.some((one) => one.demo) || axle.sheet?.demo;
  const documents = [
    ...new Set([...axle.joints, ...(axle.sheet ? [axle.sheet] : [])].map(({ source }) => source.document)),
  ];
  return (
    <article
      aria-label={`Bench sheet ${bench.unit}, axle ${axle.axle}`}
      className="bg-sheet p-4 print:p-0 print:[zoom:var(--print-zoom)]"
      style={{ '--print-zoom': Math.min(1, JOINTS_A_PAGE / (axle.joints.length + 1)) } as CSSProperties}
    >
      <header className="mb-2 flex flex-wrap items-baseline gap-x-5 border-b-2 border-ink pb-1">
        <h2 className="figures text-3xl font-semibold print:text-2xl">
          {bench.unit} <span className="font-medium">axle {axle.axle}</span>
        </h2>
        <p className="text-lg print:text-sm">
          {bench.model.name}{' '}
          <span className="text-soft">({fitmentInWords(bench.model.fitment) || 'fitment not said'})</span>
        </p>
        <p className="ml-auto text-soft">
          {axle.detail} · bench of {bench.depot}
        </p>
      </header>
      {axle.joints.length === 0 ? (
        <p className="py-4 text-lg">No joint of this axle has a released specification.</p>
      ) : (
        <div
          className="max-w-full overflow-x-auto print:overflow-visible"
          tabIndex={0}
          role="region"
          aria-label="Torques"
        >
          <table className="w-full text-left max-sm:block">
            <thead className="max-sm:hidden">
              <tr className="border-b border-line text-soft">
                <th className="py-1 pr-3 font-medium">Joint</th>
                <th className="pr-3 font-medium">Socket or key</th>
                <th className="pr-3 font-medium">Torque</th>
                <th className="pr-3 font-medium">How</th>
                <th className="font-medium">With, at this bench</th>
              </tr>
            </thead>
            <tbody className="max-sm:block">
              {axle.joints.map((joint) => (
                <JointRow key={`${joint.joint} ${joint.position}`} {...{ joint, bench, today, distanceUnit }} />
              ))}
            </tbody>
          </table>
        </div>
      )}
      {axle.unknown.length > 0 && (
        <p role="note" className="mt-3 border-l-4 border-ink bg-raised px-3 py-2 text-lg print:text-sm">
          <strong>Unknown: {axle.unknown.join(', ')}.</strong> Nobody has released a specification. Nothing is put in
          its place: look it up in the maker’s document, and have it entered.
        </p>
      )}
      <SheetOfAxle axle={axle} />
      <footer className="mt-3 border-t border-line pt-1 text-[13px] text-soft print:text-[11px]">
        <p>
          The maker’s instructions, local codes and licensed practice come first. Torque every joint with a wrench;
          never to less because a wrench ends. Stands on hard level ground, wheels chocked; no compressed air on dust.
        </p>
        <p>
          Only released values stand here{documents.length > 0 ? `, from: ${documents.join('; ')}` : ''}.
          {demo && ' Invented demo values: not for any real vehicle.'} State of {formatDate(bench.at)},{' '}
          {formatTime(bench.at)}.
        </p>
      </footer>
    </article>
  );
}

function JointRow({ joint, bench, today, distanceUnit }: Omit<Props, 'axle'> & { joint: BenchJoint }) {
  const { values, source, position } = joint;
  const { fastener, torque, preparation, oneTimeUse, pattern, recheckMiles, note } = values;
  const fits = fitJoint(torque, benchOf(bench.tools), today, headOf(values));
  const miss = hardestMiss(fits);
  const withWhat = miss ? [] : fitsInWords(fits.map(({ fit }) => fit));
  const last = fits.at(-1)?.fit;
  const graduation =
    torque && last && 'wrench' in last && last.wrench.unit === otherUnitOf(torque.unit) ? last.wrench.graduation : 1;
  const details = [
    fastener.count && `${fastener.count} a wheel end`,
    fastener.thread,
    fastener.strength && (fastener.strength.startsWith('grade') ? fastener.strength : `class ${fastener.strength}`),
  ].filter((part) => part);
  const unknown = <span className="text-lg font-semibold">unknown</span>;
  return (
    <tr className="border-b border-hair align-top max-sm:grid max-sm:grid-cols-[7rem_1fr] max-sm:py-2">
      <th scope="row" className="py-2 pr-3 font-normal max-sm:col-span-2 max-sm:py-0 print:py-0.5">
        <span className="block text-xl leading-tight font-semibold print:text-sm">
          {joint.joint}
          {position && `, ${position}`}
        </span>
        <span className="text-soft print:text-[11px]">{details.join(' · ')}</span>
      </th>
      <td className="py-2 pr-3 print:py-0.5">
        {fastener.headSize ? (
          <>
            <span className="figures block text-2xl leading-tight font-semibold whitespace-nowrap print:text-base">
              {fastener.headSize}
            </span>
            <span className="text-soft print:text-[11px]">{HEADS[fastener.headKind ?? ''] ?? ''}</span>
          </>
        ) : (
          unknown
        )}
        {fastener.counterHold && (
          <span className="block whitespace-nowrap print:text-[11px]">hold {fastener.counterHold}</span>
        )}
      </td>
      <TorqueCell torque={torque} graduation={graduation} unknown={unknown} />
      <td className="py-2 pr-3 text-base max-sm:col-span-2 max-sm:py-0 print:py-0.5 print:text-[12px]">
        <ul>
          {oneTimeUse && <li className="font-semibold">New each time</li>}
          {oneTimeUse === null && <li className="text-soft">New each time? unknown</li>}
          <li>{preparation ?? <span className="text-soft">preparation unknown</span>}</li>
          {pattern && pattern !== 'any order' && <li>{pattern}</li>}
          {recheckMiles && <li>re-check after {milesInWords(recheckMiles, distanceUnit)}</li>}
          {note && <li className="text-soft">{note}</li>}
          <li className="text-[12px] text-soft print:text-[10px]">
            p. {source.page}, rev. {source.revision}, released {formatDate(joint.releasedOn)}
          </li>
        </ul>
      </td>
      <td className="py-2 text-base max-sm:col-span-2 max-sm:py-1 print:py-0.5 print:text-[12px]">
        {miss ? (
          <p className="border-l-4 border-ink pl-2 font-medium">{fitInWords(miss)}</p>
        ) : (
          <>
            {withWhat.map((text) => (
              <p key={text}>{text}</p>
            ))}
            {torque?.angleDeg && <p>then {torque.angleDeg}°, with an angle gauge</p>}
          </>
        )}
      </td>
    </tr>
  );
}

const mm = (value: number | null) => (value === null ? 'unknown' : `${value} mm`);

function SheetOfAxle({ axle }: { axle: BenchAxle }) {
  if (!axle.sheet)
    return (
      <p className="mt-3 text-lg print:text-sm">
        Limits, fluid and bed-in: <strong>unknown</strong>; the rotor’s discard thickness is cast on it.
      </p>
    );
  const { values, source } = axle.sheet;
  const rows: [string, string][] = [
    ['Pads at least', mm(values.padMinMm)],
    ['Rotor discard', mm(values.rotorDiscardMm)],
    ['Machine to', mm(values.rotorMachineToMm)],
    ['Runout at most', mm(values.runoutMm)],
    ['Thickness variation', mm(values.thicknessVariationMm)],
    ...(axle.brake === 'hydraulic' ? [['Fluid', values.fluidGrade ?? 'unknown'] as [string, string]] : []),
  ];
  const texts: [string, string | null][] = [
    ['Parking brake', values.parkingBrake],
    ['Bed-in', values.bedIn ?? 'unknown; the pad maker’s sheet first'],
    ['Note', values.note],
  ];
  return (
    <section aria-label="Limits and fluid" className="mt-3 border-t border-line pt-2 print:mt-1 print:pt-1">
      <dl className="flex flex-wrap gap-x-6 gap-y-1">
        {rows.map(([name, value]) => (
          <div key={name}>
            <dt className="text-[13px] text-soft print:text-[11px]">{name}</dt>
            <dd className="figures text-xl font-semibold print:text-sm">{value}</dd>
          </div>
        ))}
      </dl>
      {texts.map(
        ([name, text]) =>
          text && (
            <p key={name} className="mt-1 text-base print:text-[12px]">
              <span className="text-soft">{name}: </span>
              {text}
            </p>
          ),
      )}
      <p className="text-[12px] text-soft print:text-[10px]">
        p. {source.page}, rev. {source.revision}, released {formatDate(axle.sheet.releasedOn)}
      </p>
    </section>
  );
}
