import { Printer, ScanLine } from 'lucide-react';
import { lazy, Suspense, useEffect, useMemo, useRef, useState } from 'react';
import { useSearchParams } from 'react-router';
import { useMe, useSession } from '../../api/people.ts';
import { useBenchOfVehicle } from '../../api/specifications.ts';
import { benchOfUnit, useBench } from '../../stores/bench.ts';
import { chooseDepot, depotOfDevice } from '../../stores/depot.ts';
import { Button } from '../../ui/Button.tsx';
import { Field } from '../../ui/Field.tsx';
import { State } from '../../ui/State.tsx';
import { BenchSheet } from './BenchSheet.tsx';
import { Calculator } from './Calculator.tsx';
import { DriveNotice } from '../jobs/index.ts';
import { Kept } from './Kept.tsx';
import { type DeskProps, NextInDepot } from './NextInDepot.tsx';
import { parseAsked } from './find.ts';
import { useDeskKeys } from './useDeskKeys.ts';

const Scan = lazy(async () => ({ default: (await import('../../label/Scan.tsx')).Scan }));

/** Look up: a unit number and an axle, or a label, and the bench sheet stands there. Dark, for the bay. */
export function LookUp() {
  const [depot, setDepot] = useState(depotOfDevice);
  const bench = useBench(depot);
  useEffect(() => {
    document.documentElement.dataset.theme = 'bay';
    return () => {
      delete document.documentElement.dataset.theme;
    };
  }, []);
  if (bench.isPending) return <State title="Loading" what="Fetching the bench sheets of the depot." quiet />;
  if (bench.isLoadingError)
    return (
      <State
        title="The bench sheets couldn’t load"
        what={`${bench.error.message} Open this once with a network; from then on it works without.`}
      >
        <Button onClick={() => void bench.refetch()}>Try again</Button>
      </State>
    );
  return (
    <Desk
      state={bench.data}
      depot={depot}
      onDepot={(next) => {
        chooseDepot(next);
        setDepot(next);
      }}
    />
  );
}

function Desk({ state, depot, onDepot }: DeskProps) {
  const [params, setParams] = useSearchParams();
  const unit = params.get('unit') ?? undefined;
  const me = useMe();
  const today = useSession().data?.today ?? '';
  const [typed, setTyped] = useState(unit ? `${unit} ${params.get('axle') ?? ''}`.trim() : '');
  const [scanning, setScanning] = useState(false);
  const [summing, setSumming] = useState(false);
  const [missing, setMissing] = useState<string>();
  const field = useRef<HTMLDivElement>(null);
  const { units, found, axles, axle, elsewhere } = useFound(state, unit, params.get('axle'));
  const open = (next: string, number?: number) => {
    setMissing(undefined);
    setParams({ unit: next, ...(number === undefined ? {} : { axle: String(number) }) });
    setTyped(number === undefined ? next : `${next} ${number}`);
    field.current?.querySelector('input')?.select();
  };
  const submit = () => {
    const asked = parseAsked(typed, units);
    if (asked) open(asked.unit, asked.axle);
    else if (typed.trim() !== '') {
      // Of another depot, or not kept here: the server knows.
      const split = /^([^\s/]+)(?:\s+|\s*\/\s*)([1-6])$/.exec(typed.trim().toUpperCase());
      if (state.kept) setMissing(typed.trim().toUpperCase());
      else open(split?.[1] ?? typed.trim().toUpperCase(), split ? Number(split[2]) : undefined);
    }
  };
  const step = (by: number) => {
    const next = axle && axles[axles.indexOf(axle) + by];
    if (next && unit) open(unit, next.axle);
  };
  useDeskKeys({
    find: () => field.current?.querySelector('input')?.select(),
    step,
    print: () => found && window.print(),
  });
  const wanted = typed.trim().toUpperCase();
  const near = wanted === '' || wanted === unit ? [] : [...units].filter((one) => one.startsWith(wanted)).slice(0, 8);
  const notThere = missing ?? (elsewhere.isError ? unit : undefined);
  return (
    <div className="flex flex-col gap-3">
      <div className="flex flex-wrap items-end gap-3 print:hidden" ref={field} data-find>
        <Find typed={typed} onType={setTyped} onFind={submit} />
        <Button large onClick={() => setScanning(!scanning)} className="flex items-center gap-2">
          <ScanLine aria-hidden /> Scan label
        </Button>
        {found && axle && axles.length > 1 && (
          <AxleChoice
            axles={axles.map((one) => one.axle)}
            chosen={axle.axle}
            onChoose={(next) => open(found.unit, next)}
          />
        )}
        {found && (
          <Button large onClick={() => window.print()} hotkey="P" className="flex items-center gap-2">
            <Printer aria-hidden /> Print
          </Button>
        )}
        <Button large onClick={() => setSumming(!summing)} aria-expanded={summing}>
          Calculator
        </Button>
      </div>
      {near.length > 0 && !found && <Near units={near} onOpen={open} />}
      {scanning && (
        <Scanning
          onUnit={(scanned) => {
            setScanning(false);
            open(scanned);
          }}
          onClose={() => setScanning(false)}
        />
      )}
      {found && <DriveNotice unit={found.unit} link={false} />}
      {state.kept && <Kept at={found?.at} />}
      {notThere && (
        <NotThere
          unit={notThere}
          message={missing ? undefined : elsewhere.error?.message}
          kept={missing !== undefined}
        />
      )}
      <div className="flex flex-wrap items-start gap-4">
        <div className="min-w-0 grow basis-[40rem]">
          {found && axle ? (
            <BenchSheet bench={found} axle={axle} today={today} distanceUnit={me.distanceUnit} />
          ) : (
            !notThere && !elsewhere.isFetching && <NextInDepot {...{ state, depot, onDepot, today }} onOpen={open} />
          )}
        </div>
        {summing && (
          <div className="order-first w-full min-[1100px]:order-last min-[1100px]:w-80 print:hidden">
            <Calculator />
          </div>
        )}
      </div>
    </div>
  );
}

/** The vehicle asked for: of a depot that is kept here, or asked of the server; its axles, and the one that is shown. */
function useFound(state: DeskProps['state'], unit: string | undefined, number: string | null) {
  const units = useMemo(
    () => new Set(state.depots.flatMap(({ vehicles }) => vehicles.map((vehicle) => vehicle.unit))),
    [state],
  );
  const own = unit === undefined ? undefined : benchOfUnit(state.depots, unit);
  const elsewhere = useBenchOfVehicle(unit, unit !== undefined && !own && !state.kept);
  const found = own ?? (elsewhere.data?.unit === unit ? elsewhere.data : undefined);
  const axles = found?.model.axles ?? [];
  const axle = axles.find((one) => String(one.axle) === number) ?? axles[0];
  return { units, found, axles, axle, elsewhere };
}

function Find({ typed, onType, onFind }: { typed: string; onType: (typed: string) => void; onFind: () => void }) {
  return (
    <>
      <form
        className="w-64"
        onSubmit={(event) => {
          event.preventDefault();
          onFind();
        }}
      >
        <Field
          label="Unit number, and axle: P06 1"
          large
          autoFocus
          autoComplete="off"
          autoCapitalize="characters"
          value={typed}
          onChange={(event) => onType(event.target.value)}
        />
      </form>
      <Button large look="next" onClick={onFind} hotkey="Enter">
        Open
      </Button>
    </>
  );
}

function Scanning(props: { onUnit: (unit: string) => void; onClose: () => void }) {
  return (
    <Suspense fallback={<p>Starting the camera …</p>}>
      <Scan {...props} />
    </Suspense>
  );
}

function NotThere({ unit, message, kept }: { unit: string; message: string | undefined; kept: boolean }) {
  return (
    <p role="alert" className="font-medium text-brick">
      {kept
        ? `${unit} is not kept on this device; with a network it can be looked up.`
        : (message ?? `There is no vehicle ${unit} on record.`)}
    </p>
  );
}

/** Units that begin with what was typed. */
function Near({ units, onOpen }: { units: string[]; onOpen: (unit: string) => void }) {
  return (
    <ul aria-label="Units that begin so" className="flex flex-wrap gap-2 print:hidden">
      {units.map((one) => (
        <li key={one}>
          <Button large className="figures" onClick={() => onOpen(one)}>
            {one}
          </Button>
        </li>
      ))}
    </ul>
  );
}

/** Which axle's sheet stands there. */
function AxleChoice(props: { axles: number[]; chosen: number; onChoose: (axle: number) => void }) {
  return (
    <div role="group" aria-label="Axle" className="flex gap-1">
      {props.axles.map((axle) => (
        <Button
          key={axle}
          large
          aria-pressed={axle === props.chosen}
          className={axle === props.chosen ? 'border-2 border-ink font-semibold' : ''}
          onClick={() => props.onChoose(axle)}
        >
          Axle {axle}
        </Button>
      ))}
    </div>
  );
}
