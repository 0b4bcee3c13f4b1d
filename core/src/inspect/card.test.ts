import { describe, expect, it } from '@jest/globals';
import { buildOf } from './build.ts';
import { cardOf, skippedBefore, type CardStep } from './card.ts';
import { STEPS, type CardAxle } from './cardSteps.ts';
import { missingToClose, judgeReached, type Closing } from './close.ts';
import { DEFAULT_POLICY, type ShopPolicy } from './policy.ts';
import type { JobAction } from './catalogue.ts';

const JOINTS = [
  'Wheel nut',
  'Bracket bolt',
  'Guide pin bolt',
  'Rotor retaining screw',
  'Hose joint',
  'Bleeder screw',
  'Sensor or harness screw',
];
const AIR_JOINTS = ['Wheel nut', 'Carrier bolt', 'Guide pin bolt', 'Pad retainer bolt', 'Brake chamber nut'];

function axleOf(detail: string, actions: readonly JobAction[], more: Partial<CardAxle> = {}): CardAxle {
  const brake = detail.startsWith('air') ? ('air' as const) : ('hydraulic' as const);
  return {
    axle: 1,
    brake,
    build: buildOf(brake, detail),
    scope: actions.map((action) => ({ action, sides: 'both' as const })),
    joints: brake === 'air' ? AIR_JOINTS : JOINTS,
    unknownJoints: [],
    ...more,
  };
}
const card = (axle: CardAxle, policy: Partial<ShopPolicy> = {}, drawOffMl = 0) =>
  cardOf({ axles: [axle], policy: { ...DEFAULT_POLICY, ...policy }, drawOffMl });
const names = (steps: CardStep[]) => [...new Set(steps.map(({ step }) => step))];

describe('a service card', () => {
  it('puts no step twice and names only steps that are on it', () => {
    const steps = card(
      axleOf('sliding, wear sensor left', ['pads', 'rotors new', 'calipers', 'hardware', 'sensor', 'bleed']),
    );
    const ids = steps.map(({ id }) => id);
    expect(new Set(ids).size).toBe(ids.length);
    for (const { after } of steps) for (const id of after) expect(ids).toContain(id);
  });

  it('keeps its own order: what comes before stands before', () => {
    const steps = card(axleOf('sliding', ['pads', 'rotors new', 'calipers', 'hose', 'hardware', 'bleed', 'pin boots']));
    const at = new Map(steps.map(({ id }, index) => [id, index]));
    for (const { id, after } of steps)
      for (const before of after) expect([id, (at.get(before) ?? 0) < (at.get(id) ?? 0)]).toEqual([id, true]);
  });

  it('counts washers where a line was opened, and renews clips where they are asked for; neither on air discs', () => {
    const asked: [string, JobAction[], boolean, boolean][] = [
      ['sliding', ['pads'], false, false],
      ['sliding', ['pads', 'hardware'], false, true],
      ['sliding', ['hose'], true, false],
      ['sliding', ['calipers', 'hardware'], true, true],
      ['air disc', ['calipers', 'hose', 'hardware'], false, false],
    ];
    for (const [detail, actions, washers, clips] of asked) {
      const own = names(card(axleOf(detail, actions)));
      expect([detail, actions, own.includes('washers counted'), own.includes('clips')]).toEqual([
        detail,
        actions,
        washers,
        clips,
      ]);
    }
  });

  it('puts what is of the whole job before what is of a wheel: fluid is drawn off before the pistons go home', () => {
    const steps = card(axleOf('sliding', ['pads']), {}, 20);
    for (const side of ['left', 'right'])
      expect(steps.find(({ id }) => id === `piston home/1/${side}`)?.after).toContain('draw off');
  });

  it('has every step that people forget as a hold', () => {
    const held = card(axleOf('sliding', ['pads']))
      .filter(({ hold }) => hold)
      .map(({ step }) => step);
    for (const step of [
      'final pump',
      'level and cap',
      'leak check',
      'bolts marked',
      'moving test',
      'pumped',
      'ground',
      'stands',
    ])
      expect(held).toContain(step);
  });

  it.each([
    ['sliding', ['caliper released', 'test pins', 'channels'], ['pads out, fixed', 'spring brakes', 'body off']],
    [
      'fixed opposed',
      ['pads out, fixed', 'body off'],
      ['caliper released', 'test pins', 'channels', 'torque Guide pin bolt'],
    ],
    [
      'air disc',
      ['spring brakes', 'adjuster wound back', 'clearance set', 'pads out, air', 'torque Carrier bolt', 'air up'],
      ['fluid level', 'final pump', 'parking brake', 'piston home', 'bled'],
    ],
    ['sliding, drum-in-hat parking brake', ['drum shoes backed off'], ['spring brakes']],
  ] as const)('of a %s brake with rotors branches', (detail, there, not) => {
    const steps = names(card(axleOf(detail, ['pads', 'rotors new'])));
    for (const step of there) expect(steps).toContain(step);
    for (const step of not) expect(steps).not.toContain(step);
  });

  it('has the sensor on its side only', () => {
    const steps = card(axleOf('sliding, wear sensor left', ['pads', 'sensor']));
    expect(steps.filter(({ step }) => step === 'sensor plugged').map(({ side }) => side)).toEqual(['left']);
    expect(steps.filter(({ step }) => step === 'torque Sensor or harness screw').map(({ side }) => side)).toEqual([
      'left',
    ]);
  });

  it('asks for hose and bleeder torques only where the hydraulics were opened', () => {
    expect(names(card(axleOf('sliding', ['pads'])))).not.toContain('torque Hose joint');
    expect(names(card(axleOf('sliding', ['pads', 'calipers', 'bleed'])))).toEqual(
      expect.arrayContaining(['torque Hose joint', 'washers counted', 'bled', 'torque Bleeder screw']),
    );
  });

  it('does at one wheel what is of one wheel', () => {
    const one = axleOf('sliding', ['pads'], {
      scope: [
        { action: 'pads', sides: 'both' },
        { action: 'pin boots', sides: ['right'] },
      ],
    });
    expect(
      card(one)
        .filter(({ step }) => step === 'new boots')
        .map(({ side }) => side),
    ).toEqual(['right']);
  });

  it('pumps the left side before the right pistons go home', () => {
    const home = card(axleOf('sliding', ['pads'])).find(({ id }) => id === 'piston home/1/right') as CardStep;
    expect(skippedBefore(home, new Set())).toContain('pumped/1/left');
    expect(skippedBefore(home, new Set(['pumped/1/left']))).not.toContain('pumped/1/left');
  });

  it('warns of pistons pressed home before fluid was drawn off that would overflow', () => {
    const home = card(axleOf('sliding', ['pads']), {}, 12).find(({ id }) => id === 'piston home/1/left') as CardStep;
    expect(skippedBefore(home, new Set())).toEqual(['draw off']);
  });

  it('warns of a rotor on a hub that was not cleaned', () => {
    const on = card(axleOf('sliding', ['pads', 'rotors new'])).find(
      ({ step, side }) => step === 'rotor on' && side === 'left',
    ) as CardStep;
    expect(skippedBefore(on, new Set())).toEqual(['hub clean/1/left']);
  });

  it('follows the shop: film, drawing off, a second person', () => {
    const axle = axleOf('sliding', ['pads', 'rotors new']);
    expect(names(card(axle))).toContain('hub film');
    expect(names(card(axle, { 'hub face': 'clean and dry' }))).not.toContain('hub film');
    expect(names(card(axle))).not.toContain('draw off');
    expect(names(card(axle, {}, 12))).toContain('draw off');
    expect(names(card(axle, { 'double check': 'second person' }))).toEqual(
      expect.arrayContaining(['nuts by a second']),
    );
    expect(names(card(axle, { 'double check': 'second person' }))).not.toContain('nuts again');
  });

  it('shows a joint nobody released as one that can’t be signed, and leaves out one the axle lacks', () => {
    const steps = card(axleOf('sliding', ['pads'], { joints: ['Guide pin bolt'], unknownJoints: ['Wheel nut'] }));
    expect(steps.filter(({ joint }) => joint === 'Wheel nut').every(({ unreleased }) => unreleased === true)).toBe(
      true,
    );
    const screws = card(axleOf('sliding', ['pads', 'rotors new'], { joints: ['Wheel nut'] }));
    expect(names(screws)).not.toContain('torque Rotor retaining screw');
  });

  it('uses every step that is defined, over the brakes there are', () => {
    const scopes: JobAction[] = [
      'pads',
      'rotors new',
      'rotors scuffed',
      'calipers',
      'hose',
      'hardware',
      'sensor',
      'bleed',
      'pin boots',
      'pins cleaned',
    ];
    const used = ['sliding, wear sensor left', 'fixed', 'air disc', 'sliding, drum-in-hat'].flatMap((detail) =>
      (['same person again', 'second person'] as const).flatMap((double) =>
        names(card(axleOf(detail, scopes), { 'double check': double }, 5)),
      ),
    );
    expect(STEPS.map(({ id }) => id).filter((id) => !used.includes(id))).toEqual([]);
  });
});

describe('closing a job', () => {
  const steps = card(axleOf('sliding', ['pads']));
  const all = new Set(steps.filter(({ hold }) => hold).map(({ id }) => id));
  const whole: Closing = {
    steps,
    done: all,
    padsLeft: [{ step: 'pads left/1/left', axle: 1, side: 'left', innerMm: 11, outerMm: 11.1, confirmed: false }],
    rotorsLeft: [{ step: 'rotor left/1/left', axle: 1, side: 'left', mm: 31 }],
    axles: [{ axle: 1, newMm: 11, limitMm: 3, rotorDiscardMm: 30 }],
    openDefects: [],
    odometer: true,
  };

  it('misses nothing where every hold is done', () => {
    expect(missingToClose(whole)).toEqual([]);
  });

  it('misses each hold that is not done, and only those', () => {
    for (const id of all) {
      const done = new Set([...all].filter((one) => one !== id));
      expect(missingToClose({ ...whole, done })).toEqual([{ code: 'step', step: id }]);
    }
    const free = steps.find(({ hold }) => !hold);
    expect(missingToClose({ ...whole, done: new Set([...all, free?.id ?? '']) })).toEqual([]);
  });

  it.each([
    [
      { padsLeft: [{ step: 's', axle: 1, side: 'left', innerMm: 12.9, outerMm: 11, confirmed: false }] },
      { code: 'above new', step: 's', pad: 'inner', mm: 12.9, newMm: 11 },
    ],
    [
      { padsLeft: [{ step: 's', axle: 1, side: 'left', innerMm: 11, outerMm: 3, confirmed: false }] },
      { code: 'below limit', step: 's', pad: 'outer', mm: 3, limitMm: 3 },
    ],
    [
      { rotorsLeft: [{ step: 'r', axle: 1, side: 'left', mm: 29.9 }] },
      { code: 'rotor below discard', step: 'r', mm: 29.9, discardMm: 30 },
    ],
    [{ openDefects: ['d'] }, { code: 'defect', defectId: 'd' }],
    [{ odometer: false }, { code: 'odometer' }],
  ] as [Partial<Closing>, object][])('with %j it does not close', (change, missing) => {
    expect(missingToClose({ ...whole, ...change })).toEqual([missing]);
  });

  it('takes a pad above new once somebody confirms it, and a rotor at its discard', () => {
    const padsLeft = [{ step: 's', axle: 1, side: 'left' as const, innerMm: 12.9, outerMm: 11, confirmed: true }];
    expect(missingToClose({ ...whole, padsLeft, rotorsLeft: [{ step: 'r', axle: 1, side: 'left', mm: 30 }] })).toEqual(
      [],
    );
  });

  it.each([
    [130, { least: null, nominal: 130, most: null }, true],
    [123.5, { least: null, nominal: 130, most: null }, true],
    [123.4, { least: null, nominal: 130, most: null }, false],
    [136.6, { least: null, nominal: 130, most: null }, false],
    [152, { least: 152, nominal: 160, most: 168 }, true],
    [151.9, { least: 152, nominal: 160, most: 168 }, false],
    [168.1, { least: 152, nominal: 160, most: 168 }, false],
  ])('a joint at %d against %j fits: %s', (reached, torque, fits) => {
    expect(judgeReached(reached, torque).fits).toBe(fits);
  });
});
