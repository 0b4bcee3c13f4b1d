import { describe, expect, it } from '@jest/globals';
import { type Bay, type BayVehicle, NewInspection } from '@mile-mark/contract/inspections';
import { scanUnit } from '../../../label/scanUnit.ts';
import { type Action, apply, newDraft, walk } from './draft.ts';
import { type DraftContext, expectedNow, judgeDraft, judgeOdometer } from './judgeDraft.ts';
import { dialMicrometres, inspectionOf, missing } from './sent.ts';
import { worthLooking } from './worth.ts';

const ID = (n: number) => `00000000-0000-4000-8000-${String(n).padStart(12, '0')}`;
const pad = (side: 'left' | 'right', name: 'inner' | 'outer', meanMm: number) => ({
  side,
  pad: name,
  meanMm,
  sdMm: 0.15,
  ratePer1000Mi: 0.2,
  pooledMm: meanMm,
  readings: 6,
  people: 2,
});
const axle = (number: number, left = 7, right = 7) => ({
  axle: number,
  newMm: 11,
  plateMm: 5.8,
  limitMm: 2.75,
  rotorNewMm: 32,
  rotorDiscardMm: 30,
  runoutLimitMm: 0.05,
  variationLimitMm: 0.02,
  fittedOn: '2026-01-10',
  markDate: '2027-01-10',
  asked: null,
  worth: { laterMi: 300, width80Mi: 5000, width80AfterMi: 3000 },
  pads: [
    pad('left', 'inner', left),
    pad('left', 'outer', left),
    pad('right', 'inner', right),
    pad('right', 'outer', right),
  ],
});
const vehicle: BayVehicle = {
  unit: 'P01',
  model: 'Tarnbrook Drover 4x4',
  class: 'pickup',
  depot: 'Northfold',
  odometerNowMi: 50_000,
  milesPerDay: 66,
  last: { date: '2026-11-01', miles: 48_700 },
  axles: [axle(1), axle(2)],
};
const bay: Bay = {
  at: '2026-11-20T06:00:00.000000Z',
  today: '2026-11-20',
  vehicles: [vehicle],
  gauges: [{ id: ID(1), name: 'Vernier', kind: 'vernier', resolutionMm: 0.1, unit: 'mm', calibrationDue: null }],
  people: [{ id: ID(2), name: 'Ann', role: 'technician' }],
  appraisers: [{ technicianId: ID(2), gaugeId: ID(1), biasMm: 0.3, biasSdMm: 0.05, repeatabilityMm: 0.15 }],
};
const context: DraftContext = { vehicle, bay, unit: 'mm' };
const start = () => newDraft(bay, 'P01', { technicianId: ID(2), gaugeId: ID(1), odometerUnit: 'mi' });
const run = (...actions: Action[]) => actions.reduce(apply, { ...start(), odometer: '50000' });
const type = (number: number, side: 'left' | 'right', name: 'inner' | 'outer', typed: string): Action => ({
  kind: 'type',
  place: { axle: number, side, pad: name },
  typed,
});

describe('the walk around a vehicle', () => {
  it('goes back along the left and forward along the right', () => {
    expect(walk([1, 2, 3]).map(({ axle: one, side }) => `${side[0]}${one}`)).toEqual([
      'l1',
      'l2',
      'l3',
      'r3',
      'r2',
      'r1',
    ]);
  });
});

describe('a draft', () => {
  it('is never changed by a touch, so that each can be undone', () => {
    const before = run(type(1, 'left', 'outer', '7.1'));
    const frozen = JSON.stringify(before);
    apply(before, type(1, 'left', 'outer', '9.9'));
    apply(before, { kind: 'finding', wheel: { axle: 1, side: 'left' }, item: 'pins', state: 'stiff' });
    apply(before, { kind: 'rotor', wheel: { axle: 1, side: 'left' }, set: { studs: '6' } });
    expect(JSON.stringify(before)).toBe(frozen);
  });

  it('keeps the ids it made: a figure typed again is the same reading, its answer is asked anew', () => {
    const place = { axle: 1, side: 'left', pad: 'outer' } as const;
    const first = apply(run(type(1, 'left', 'outer', '12.9')), { kind: 'answer', place, answer: 'measured_twice' });
    const again = apply(first, type(1, 'left', 'outer', '12.8'));
    expect(again.pads['1-left-outer']?.id).toBe(first.pads['1-left-outer']?.id);
    expect(first.pads['1-left-outer']?.answer).toBe('measured_twice');
    expect(again.pads['1-left-outer']?.answer).toBeUndefined();
  });

  it('is sent as the contract accepts it: readings, pads not seen, findings, rotors', () => {
    const wheel = { axle: 2, side: 'right' } as const;
    const draft = run(
      type(1, 'left', 'outer', '7.1'),
      { kind: 'unseen', place: { axle: 1, side: 'left', pad: 'inner' }, unseen: true },
      { kind: 'finding', wheel, item: 'boots', state: 'torn' },
      {
        kind: 'rotor',
        wheel,
        set: { thickness: ['31.2', '31,1', '', '', '', '', '', ''], runout: ['0', '3', '6', '8', '7', '4', '1', '−1'] },
      },
    );
    const body = NewInspection.parse(inspectionOf(draft, context));
    expect(body.readings).toHaveLength(1);
    expect(body.unseen).toMatchObject([{ axle: 1, side: 'left', pad: 'inner' }]);
    expect(body.findings).toMatchObject([{ axle: 2, side: 'right', item: 'boots', state: 'torn' }]);
    expect(body.rotors?.[0]).toMatchObject({
      thicknessUm: [31200, 31100, null, null, null, null, null, null],
      runoutUm: [0, 30, 60, 80, 70, 40, 10, -10],
      hubRunoutUm: [],
    });
    expect(body.inspection.seenAt).toBe(bay.at);
  });

  it('leaves out half a circle of runout, which says nothing', () => {
    const wheel = { axle: 1, side: 'left' } as const;
    const draft = run({ kind: 'rotor', wheel, set: { thickness: ['31'], runout: ['0', '1', '', '', '', '', '', ''] } });
    expect(inspectionOf(draft, context).rotors?.[0]?.runoutUm).toEqual([]);
    expect(dialMicrometres('x')).toBeNull();
  });

  it('a finding touched again is taken back', () => {
    const wheel = { axle: 1, side: 'left' } as const;
    const draft = run(
      { kind: 'finding', wheel, item: 'pins', state: 'stiff' },
      { kind: 'finding', wheel, item: 'pins', state: 'stiff' },
    );
    expect(draft.findings).toEqual([]);
  });

  it('of what is wrong several may stand, with which, how far and a note; what passes stands alone', () => {
    const wheel = { axle: 1, side: 'left' } as const;
    const touch = (state: string): Action => ({ kind: 'finding', wheel, item: 'rotor', state });
    const two = run(touch('grooved'), touch('heavy lip'));
    const [first] = two.findings;
    const told = apply(two, {
      kind: 'finding detail',
      id: first?.id ?? '',
      set: { places: ['outer face'], degree: 'clear', note: '  two rings ' },
    });
    expect(NewInspection.parse(inspectionOf(told, context)).findings).toMatchObject([
      { state: 'grooved', places: ['outer face'], degree: 'clear', note: 'two rings' },
      { state: 'heavy lip' },
    ]);
    expect(apply(told, touch('smooth')).findings).toMatchObject([{ state: 'smooth' }]);
    expect(apply(apply(told, touch('smooth')), touch('cracked')).findings).toMatchObject([{ state: 'cracked' }]);
  });
});

describe('what stands in the way of keeping an inspection', () => {
  it('is said in order: who, gauge, odometer, figures, questions', () => {
    expect(missing({ ...start(), technicianId: '' }, context)).toBe('Say who measured.');
    expect(missing({ ...start(), gaugeId: '' }, context)).toBe('Say with which gauge.');
    expect(missing(start(), context)).toBe('The odometer is needed.');
    expect(missing(run(), context)).toBe('Nothing is measured yet.');
    expect(missing(run(type(1, 'left', 'outer', '85')), context)).toBe('1 figure to mend.');
    const doubted = run(type(1, 'left', 'outer', '13.1'));
    expect(missing(doubted, context)).toBe('1 question to answer.');
    const answered = apply(doubted, {
      kind: 'answer',
      place: { axle: 1, side: 'left', pad: 'outer' },
      answer: 'leave_to_coordinator',
    });
    expect(missing(answered, context)).toBeUndefined();
  });
});

describe('an odometer while it is typed', () => {
  const judge = (odometer: string) => judgeOdometer({ ...start(), odometer }, vehicle).kind;
  it('is empty, wrong, fine, or ahead of the vehicle’s pace', () => {
    expect(['', 'x', '40000', '49900', '60000'].map(judge)).toEqual(['empty', 'wrong', 'wrong', 'fine', 'ahead']);
  });
  it('that is taken back takes its answer with it', () => {
    const draft = run(
      { kind: 'head', set: { odometer: '60000' } },
      { kind: 'head', set: { odometerAnswer: 'measured_twice' } },
    );
    expect(draft.odometerAnswer).toBe('measured_twice');
    expect(apply(draft, { kind: 'head', set: { odometer: '50100' } }).odometerAnswer).toBeUndefined();
  });
});

describe('what is expected', () => {
  const known = vehicle.axles[0]?.pads[0];
  it('moves with the odometer typed, but not farther than a month’s driving', () => {
    if (!known) throw new Error('no pad');
    const at = (odometer: string) => expectedNow(known, vehicle, { ...start(), odometer });
    expect(at('51000')).toBeCloseTo(7 - 0.2, 12);
    expect(at('50000')).toBe(7);
    expect(at('90000')).toBeCloseTo(7 - 0.2 * 2.046, 6);
  });
  it('includes the appraiser’s bias: a figure that this appraiser reads high is fine', () => {
    expect(judgeDraft(run(type(1, 'left', 'outer', '7.3')), context).get('1-left-outer')?.kind).toBe('fine');
    expect(judgeDraft(run(type(1, 'left', 'outer', '8.6')), context).get('1-left-outer')?.kind).toBe('suspect');
  });
});

describe('sides the wrong way round', () => {
  const uneven: DraftContext = { ...context, vehicle: { ...vehicle, axles: [axle(1, 5, 8)] } };
  it('are asked about at every figure of the axle', () => {
    const draft = run(
      type(1, 'left', 'inner', '8.3'),
      type(1, 'left', 'outer', '8.2'),
      type(1, 'right', 'inner', '5.3'),
      type(1, 'right', 'outer', '5.4'),
    );
    for (const state of judgeDraft(draft, uneven).values())
      expect(state).toMatchObject({ kind: 'suspect', suspicion: { kind: 'sides' } });
  });
  it('are not asked about while only one side is there', () => {
    const draft = run(type(1, 'left', 'inner', '8.3'));
    expect(judgeDraft(draft, uneven).get('1-left-inner')).not.toMatchObject({ suspicion: { kind: 'sides' } });
  });
});

describe('what is worth a look', () => {
  const fleet = (...vehicles: BayVehicle[]) =>
    worthLooking({ ...bay, vehicles }, '', 5).map(({ vehicle: { unit } }) => unit);
  const asked = { what: 'look', by: 'Ros', on: '2026-11-12', note: null, side: 'left', pad: null } as const;
  const with_ = (unit: string, more: Partial<BayVehicle['axles'][number]>): BayVehicle => ({
    ...vehicle,
    unit,
    axles: [{ ...axle(1), ...more }],
  });
  it('is what the coordinator asked for, then what narrows most, a near mark before a far one', () => {
    expect(
      fleet(
        with_('FAR', { markDate: '2027-03-30' }),
        with_('NEAR', { markDate: '2026-11-25' }),
        with_('WIDE', { markDate: '2026-11-25', worth: { laterMi: 1, width80Mi: 9000, width80AfterMi: 2000 } }),
        with_('ASKED', { markDate: '2029-01-01', asked }),
        with_('LATER', { markDate: '2029-01-01' }),
      ),
    ).toEqual(['ASKED', 'WIDE', 'NEAR', 'FAR']);
  });
  it('is of the depot that was chosen', () => {
    expect(worthLooking(bay, 'Saltmarsh depot', 5)).toEqual([]);
  });
});

describe('a label’s code', () => {
  it('is the address of the measure page or the bare number; anything else is no label', () => {
    expect(scanUnit('http://dairy.example:4600/measure/v10')).toBe('V10');
    expect(scanUnit('https://dairy.example/measure/T%2001?x=1')).toBe('T 01');
    expect(scanUnit(' p07 ')).toBe('P07');
    expect(scanUnit('https://elsewhere.example/pay?now')).toBeUndefined();
  });
});
