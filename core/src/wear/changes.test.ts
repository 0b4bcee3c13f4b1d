import { describe, expect, it } from '@jest/globals';
import { tryChanges, virtualFleet } from '../simulate/index.ts';
import {
  DEFAULT_NOISE,
  forecastVehicle,
  runWithChanges,
  TOLD_FROM,
  UNKNOWN_APPRAISER,
  type ReadingInput,
  type VehicleInput,
} from './index.ts';

const prior = { mean: Math.log(0.2), sdVehicle: 0.25, sdAxle: 0.12, sdPad: 0.1 };
const appraiser = { biasMm: 0, biasSdMm: 0.1, repeatabilityMm: 0.2 };
const PLACES = [
  ['left', 'inner'],
  ['left', 'outer'],
  ['right', 'inner'],
  ['right', 'outer'],
] as const;

/** Looks every 6,000 miles from new; each row holds left inner, left outer, right inner, right outer, mm. */
const vehicle = (axles: Record<number, readonly (readonly number[])[]>): VehicleInput => ({
  axles: Object.keys(axles).map((axle) => ({ axle: Number(axle), newMm: 11, plateMm: 5.8, limitMm: 2.75, prior })),
  readings: Object.entries(axles).flatMap(([axle, looks]) =>
    looks.flatMap((row, k) =>
      PLACES.map(([side, pad], p): ReadingInput => ({
        id: `${axle}/${k}/${side}/${pad}`,
        date: `2026-${String(2 + 2 * k).padStart(2, '0')}-01`,
        miles: 16_000 + 6000 * k,
        axle: Number(axle),
        side,
        pad,
        mm: row[p] as number,
        unit: 'mm',
        resolutionMm: 0.1,
        technician: 'A',
      })),
    ),
  ),
  fittings: Object.keys(axles).map((axle) => ({ date: '2026-01-01', miles: 10_000, axle: Number(axle) })),
  odometers: [],
  duty: [],
  appraisers: { A: appraiser },
  unknownAppraiser: UNKNOWN_APPRAISER,
  noise: DEFAULT_NOISE,
  today: '2026-12-01',
});
const usual = [
  [9.8, 9.8, 9.8, 9.8],
  [8.6, 8.6, 8.6, 8.6],
  [7.4, 7.4, 7.4, 7.4],
  [6.2, 6.2, 6.2, 6.2],
];
const changesOf = (input: VehicleInput) => runWithChanges(input).changes;

describe('pads of a wheel that wear apart', () => {
  const seized = [usual[0] as number[], [6.5, 9.2, 8.6, 8.6], [3.3, 8.6, 7.4, 7.4]];

  it('are told with the pad, the look after which it began, the factor and the wear', () => {
    const [found, ...more] = changesOf(vehicle({ 1: seized }));
    expect(more).toEqual([]);
    expect(found).toMatchObject({ kind: 'apart', axle: 1, side: 'left', more: 'inner', since: '2026-02-01', looks: 2 });
    expect(found?.probability).toBeGreaterThan(0.99);
    // 6.5 mm in 12,000 miles where the other wheel lost 2.4.
    expect(found?.factor.p05).toBeLessThan(6.5 / 2.4);
    expect(found?.factor.p95).toBeGreaterThan(6.5 / 2.4);
    const inner = found?.wear.find(({ pad }) => pad === 'inner');
    expect(inner?.mm).toBeGreaterThan(5.8);
    expect(inner?.mm).toBeLessThan(7);
  });

  it('come out the same whatever was run before, with the traces of every pad', () => {
    const first = runWithChanges(vehicle({ 1: seized }));
    runWithChanges(vehicle({ 1: usual, 2: seized }));
    expect(runWithChanges(vehicle({ 1: seized }))).toEqual(first);
    // New pads, then each look.
    expect(first.history.traces.map((trace) => trace.length)).toEqual(Array(4).fill(1 + seized.length));
  });

  it('are named as suspected where one look shows it but not surely, and widen the forecast meanwhile', () => {
    const lookAt = (inner: number) => runWithChanges(vehicle({ 1: [usual[0] as number[], [inner, 8.9, 8.6, 8.6]] }));
    // The further the one reading strays, the likelier; first nothing, then suspected, then told.
    const stages = [8.5, 7.9, 7.7, 7.5, 7.3, 7.1, 6.9, 6.5, 6.1].map(lookAt);
    expect(stages[0]?.suspected).toBeUndefined();
    const suspected = stages.flatMap((one) => one.suspected ?? []);
    expect(suspected.length).toBeGreaterThan(0);
    for (const one of suspected) {
      expect(one).toMatchObject({ axle: 1, side: 'left' });
      expect(one.probability).toBeGreaterThanOrEqual(0.2);
      expect(one.probability).toBeLessThan(TOLD_FROM[one.kind]);
    }
    for (const { changes, suspected: own } of stages) expect(changes.length > 0 && own !== undefined).toBe(false);
  });

  it('are a seized slide from 1.8 times on; less, however sure, is uneven wear and forecast as it is', () => {
    // From the first look on one pad loses so many times the usual 1.2 mm between looks, and its mate less, by a good gauge.
    const wearing = (times: number) => {
      const rows = Array.from({ length: 5 }, (_, k) => [
        9.8 - 1.2 * times * k,
        9.8 - 0.7 * k,
        9.8 - 1.2 * k,
        9.8 - 1.2 * k,
      ]);
      const input = vehicle({ 1: rows.filter(([inner = 0]) => inner > 0) });
      return { ...input, appraisers: { A: { ...appraiser, repeatabilityMm: 0.05 } } };
    };
    for (const times of [1.3, 1.45, 1.6, 1.9, 2.4, 3]) {
      const input = wearing(times);
      const { changes, suspected } = runWithChanges(input);
      expect([times, changes.map(({ kind }) => kind)]).toEqual([times, times > 1.8 ? ['apart'] : []]);
      for (const { factor } of changes) expect(factor.p50).toBeGreaterThanOrEqual(1.8);
      // Nor is it named as what is not sure.
      expect(suspected).toBeUndefined();
      const [axle] = forecastVehicle(input, { riskTarget: 0.05, seed: 1, draws: 64 }).axles;
      const rate = (wanted: string) =>
        axle?.pads.find(({ side, pad }) => `${side} ${pad}` === wanted)?.ratePer1000Mi ?? NaN;
      expect(rate('left inner') / rate('right inner')).toBeGreaterThan(0.85 * times);
    }
  });

  it('bring the mark forward: the fast pad is forecast at its fast rate', () => {
    const policy = { riskTarget: 0.05, seed: 1, draws: 512 };
    const [axle] = forecastVehicle(
      vehicle({ 1: [...seized.slice(0, 1), [6.6, 9.2, 8.6, 8.6], [4.4, 8.7, 7.4, 7.4]] }),
      policy,
    ).axles;
    const inner = axle?.pads.find(({ side, pad }) => side === 'left' && pad === 'inner');
    const mate = axle?.pads.find(({ side, pad }) => side === 'right' && pad === 'inner');
    expect(inner?.ratePer1000Mi).toBeGreaterThan(1.8 * (mate?.ratePer1000Mi ?? Infinity));
  });

  it('are the outer where the outer wears more', () => {
    expect(changesOf(vehicle({ 1: [usual[0] as number[], [9.2, 6.5, 8.6, 8.6], [8.6, 3.3, 7.4, 7.4]] }))).toMatchObject(
      [{ kind: 'apart', side: 'left', more: 'outer' }],
    );
  });

  it('are not told of a wheel a little uneven, of one figure that went back, nor before two looks', () => {
    expect(
      changesOf(
        vehicle({
          1: [
            [9.8, 9.7, 9.8, 9.8],
            [8.3, 8.6, 8.6, 8.6],
            [6.8, 7.3, 7.4, 7.4],
          ],
        }),
      ),
    ).toEqual([]);
    expect(changesOf(vehicle({ 1: [usual[0] as number[], [6.1, 8.6, 8.6, 8.6], [7.4, 7.4, 7.4, 7.4]] }))).toEqual([]);
    expect(changesOf(vehicle({ 1: [] }))).toEqual([]);
  });

  describe('under new pads', () => {
    const worn = vehicle({ 1: [...seized, [9.8, 9.8, 9.8, 9.8]] });
    // The last look of `worn` is the day after its new pads; further ones follow every 6,000 miles.
    const input = {
      ...worn,
      readings: worn.readings.filter(({ date }) => date < '2026-08-01'),
      fittings: [...worn.fittings, { date: '2026-06-02', miles: 28_050, axle: 1 }],
    };
    const later = (rows: readonly (readonly number[])[]): VehicleInput => ({
      ...input,
      readings: [
        ...input.readings,
        ...rows.flatMap((row, k) =>
          PLACES.map(([side, pad], p): ReadingInput => ({
            ...(worn.readings[0] as ReadingInput),
            id: `later/${k}/${side}/${pad}`,
            date: `2026-${String(8 + 2 * k).padStart(2, '0')}-01`,
            miles: 34_000 + 6000 * k,
            side,
            pad,
            mm: row[p] as number,
          })),
        ),
      ],
    });
    const remedied = { ...input, remedies: [{ date: '2026-06-02', axle: 1, side: 'left' as const }] };
    const ratesOf = (one: VehicleInput) => {
      const { state } = runWithChanges(one).history;
      return state.places.map((_, p) => ({
        log: state.mean[p] as number,
        sd: Math.sqrt(state.cov.data[p * (state.cov.size + 1)] as number),
      }));
    };
    const outlivedOf = (one: VehicleInput) => changesOf(one)[0]?.outlived;

    it('end where a cause is on record: the rates go back', () => {
      const rates = ratesOf(remedied).map(({ log }) => log);
      expect(changesOf(remedied)).toMatchObject([{ since: '2026-02-01', until: '2026-06-02', outlived: 0 }]);
      expect(Math.max(...rates) - Math.min(...rates)).toBeLessThan(0.5);
    });

    it('are as likely to go on as not where none is, and the rate of the pad is that much less sure', () => {
      expect(changesOf(input)).toMatchObject([{ since: '2026-02-01', until: '2026-06-02' }]);
      expect(outlivedOf(input)).toBeCloseTo(0.5, 1);
      const [before, after] = [ratesOf(remedied)[0], ratesOf(input)[0]];
      expect(after?.sd).toBeGreaterThan(1.5 * (before?.sd ?? Infinity));
      const policy = { riskTarget: 0.05, seed: 1, draws: 512 };
      const markOf = (one: VehicleInput) => forecastVehicle(one, policy).axles[0]?.markMiles ?? NaN;
      expect(markOf(input)).toBeLessThan(markOf(remedied));
    });

    it('a cause of another wheel, or one found before it began, is none', () => {
      for (const remedy of [
        { date: '2026-06-02', axle: 1, side: 'right' as const },
        { date: '2026-01-15', axle: 1, side: 'left' as const },
        { date: '2026-06-02', axle: 2, side: 'left' as const },
      ])
        expect(outlivedOf({ ...input, remedies: [remedy] })).toBeCloseTo(0.5, 1);
    });

    it('ended after two looks that wear evenly, went on where the same pad wears again', () => {
      const even = [
        [9.8, 9.8, 9.8, 9.8],
        [8.6, 8.6, 8.6, 8.6],
      ];
      const again = [
        [8, 10.4, 9.8, 9.8],
        [4.8, 9.8, 8.6, 8.6],
      ];
      expect(outlivedOf(later(even))).toBeLessThan(0.05);
      const lasting = runWithChanges(later(again));
      const one = lasting.changes.filter(({ kind, side }) => kind === 'apart' && side === 'left');
      expect(one.some(({ outlived, since }) => (outlived ?? 0) > 0.95 || since >= '2026-06-02')).toBe(true);
      const { places, mean } = lasting.history.state;
      const rate = (side: string, pad: string) =>
        mean[places.findIndex((place) => place.side === side && place.pad === pad)] as number;
      expect(rate('left', 'inner') - rate('right', 'inner')).toBeGreaterThan(0.6);
    });
  });

  it('a look says the same in whatever order its figures were written down', () => {
    const input = vehicle({ 1: [...seized, [0.9, 8.1, 6.1, 6.2]] });
    const backwards = {
      ...input,
      readings: input.readings.map((one) => ({
        ...one,
        id: `${9 - PLACES.findIndex(([s, p]) => s === one.side && p === one.pad)}${one.id}`,
      })),
    };
    const [a, b] = [input, backwards].map((one) => runWithChanges(one).history.state);
    a?.mean.forEach((value, k) => expect(value).toBeCloseTo(b?.mean[k] as number, 3));
  });
});

describe('other changes', () => {
  it('both pads of a wheel: it drags', () => {
    const looks = [usual[0] as number[], [7.4, 7.4, 8.6, 8.6], [5.0, 5.0, 7.4, 7.4], [2.6, 2.6, 6.2, 6.2]];
    const [found] = changesOf(vehicle({ 1: looks, 2: usual }));
    expect(found).toMatchObject({ kind: 'wheel', axle: 1, side: 'left', since: '2026-02-01' });
    expect(found?.factor.p50).toBeGreaterThan(1.6);
  });

  it('all pads of the vehicle: the route', () => {
    const step = [usual[0], [6.9, 6.9, 6.9, 6.9], [4.0, 4.0, 4.0, 4.0]] as number[][];
    const [found] = changesOf(vehicle({ 1: step, 2: step }));
    expect(found).toMatchObject({ kind: 'route', since: '2026-02-01', axle: undefined });
    expect(found?.factor.p05).toBeGreaterThan(1.6);
    expect(found?.factor.p95).toBeLessThan(3.2);
  });

  it('are told with a chance, never a last digit over certainty, however plain they are', () => {
    // Chances of several onsets add up to one; about one in fifty sums of such shares is over it in floating point.
    const told = Array.from({ length: 60 }, (_, n) => n + 45).flatMap((k) => {
      const [slow, fast] = [0.4 + (k % 7) / 10, 1.5 + k / 40];
      const looks = [0, 1, 2, 2 + fast, 2 + 2 * fast].map((wear, j) =>
        PLACES.map((_place, p) => 9.8 - slow * wear - ((k * 7 + j * 3 + p) % 3) / 10),
      );
      return changesOf(vehicle({ 1: looks, 2: looks })).map(({ probability }) => probability);
    });
    expect(Math.max(...told)).toBeGreaterThan(1 - 1e-12);
    for (const chance of told) expect(chance).toBeLessThanOrEqual(1);
  });

  it('all pads of an axle since they were fitted: wrong pads', () => {
    const input = vehicle({ 1: [...usual, [8.1, 8.1, 8.1, 8.1]], 2: [...usual, [5.0, 5.0, 5.0, 5.0]] });
    const changed = { ...input, fittings: [...input.fittings, { date: '2026-08-02', miles: 34_010, axle: 1 }] };
    const found = changesOf(changed).find(({ kind }) => kind === 'axle');
    expect(found).toMatchObject({ kind: 'axle', axle: 1, since: '2026-08-02' });
  });

  it('none where all wears as it did', () => {
    expect(changesOf(vehicle({ 1: usual, 2: usual }))).toEqual([]);
  });
});

// Truth is known, and the search never sees it. The design asks for four in five seized slides by the third look and
// no more than one false alarm in 2,500 wheel-end inspections; the bounds allow four standard errors of such counts.
describe('over a virtual fleet never used for tuning', () => {
  const whole = virtualFleet({
    vehicles: 420,
    technicians: 6,
    seed: 431,
    from: '2023-01-01',
    days: 1095,
    unstatedRoutes: 0.05,
  });
  const eventful = whole.vehicles.filter(({ seized, unstated }) => seized !== undefined || unstated !== undefined);
  const trial = tryChanges({ ...whole, vehicles: [...new Set([...whole.vehicles.slice(0, 50), ...eventful])] });

  it('finds most slides and routes by the third look', () => {
    const error = (p: number, n: number) => 4 * Math.sqrt((p * (1 - p)) / n);
    expect(trial.seized).toBeGreaterThan(0);
    expect(trial.seizedByLook[2] / trial.seized).toBeGreaterThan(0.8 - error(0.8, trial.seized));
    expect(trial.routes).toBeGreaterThan(10);
    expect(trial.routesByLook[2] / trial.routes).toBeGreaterThan(0.5);
  });

  it('seldom tells what is not there', () => {
    const allowed = trial.wheelEndInspections / 2500;
    expect(trial.wheelEndInspections).toBeGreaterThan(2000);
    expect(trial.falseSeized).toBeLessThanOrEqual(Math.ceil(allowed + 4 * Math.sqrt(allowed)));
    expect(trial.falseRoutes + trial.falseOthers).toBeLessThan(trial.vehicleInspections / 100);
  });
});
