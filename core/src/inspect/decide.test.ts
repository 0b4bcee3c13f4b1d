import { describe, expect, it } from '@jest/globals';
import { readFileSync } from 'node:fs';
import { buildOf } from './build.ts';
import { FINDING_CATALOGUE, type Complaint, type JobAction } from './catalogue.ts';
import { decide } from './decide.ts';
import { DEFAULT_POLICY } from './policy.ts';
import { RULE_IDS, type AxleFacts } from './rules.ts';
import type { Pad, Side } from '../measure/index.ts';

const table = readFileSync(new URL('../../../docs/decisions.md', import.meta.url), 'utf8')
  .split('\n')
  .filter((line) => line.startsWith('| ') && !line.startsWith('| Rule') && !line.startsWith('| ---'))
  .map((line) => line.split('|').map((cell) => cell.trim()))
  .map(([, rule = '', given = '', proposed = '']) => ({ rule, given, proposed }));

function sound(): AxleFacts {
  const rotor = { thicknessMm: 31.5, newMm: 32, discardMm: 30, machineToMm: 30.4, wearPerPadsMm: 0.3, cutMm: 0.4 };
  return {
    brake: 'hydraulic',
    build: buildOf('hydraulic', 'sliding'),
    pads: (['left', 'right'] as const).flatMap((side) =>
      (['inner', 'outer'] as const).map((pad) => ({ side, pad, mm: 8 })),
    ),
    limitMm: 3,
    law: null,
    daysToMark: 200,
    wearsAtLeast: 1,
    rotor,
    runout: null,
    variation: null,
    findings: [],
    complaints: [],
    fluid: undefined,
    life: { miles: 40_000, years: 2 },
    prices: undefined,
    policy: DEFAULT_POLICY,
  };
}

/** Each way a row may say what is otherwise; the words are those of docs/decisions.md. */
const GIVENS: [RegExp, (facts: AxleFacts, found: string[]) => Partial<AxleFacts>][] = [
  [/^nothing$/, () => ({})],
  [/^air$/, () => ({ brake: 'air', build: buildOf('air', 'air disc') })],
  [/^law ([\d.]+)$/, (_, [mm]) => ({ law: { leastMm: Number(mm), equalityPasses: true } })],
  [/^pads ([\d.]+)$/, ({ pads }, [mm]) => ({ pads: pads.map((one) => ({ ...one, mm: Number(mm) })) })],
  [
    /^pad (left|right) (inner|outer) ([\d.]+)$/,
    ({ pads }, [side, pad, mm]) => ({
      pads: pads.map((one) => (one.side === side && one.pad === (pad as Pad) ? { ...one, mm: Number(mm) } : one)),
    }),
  ],
  [/^mark (-?\d+)$/, (_, [days]) => ({ daysToMark: Number(days) })],
  [/^wears ([\d.]+)$/, (_, [times]) => ({ wearsAtLeast: Number(times) })],
  [/^rotor ([\d.]+)$/, ({ rotor }, [mm]) => ({ rotor: rotor && { ...rotor, thicknessMm: Number(mm) } })],
  [/^machine-to none$/, ({ rotor }) => ({ rotor: rotor && { ...rotor, machineToMm: null } })],
  [
    /^runout ([\d.]+) of ([\d.]+)$/,
    (_, [mm, first]) => ({ runout: { mm: Number(mm), firstHarmonicMm: Number(first), limitMm: 0.05 } }),
  ],
  [/^variation ([\d.]+)$/, (_, [mm]) => ({ variation: { mm: Number(mm), limitMm: 0.02 } })],
  [
    /^find (left|right) (\w+) (.+)$/,
    ({ findings }, [side, item = '', state = '']) => ({ findings: [...findings, { side: side as Side, item, state }] }),
  ],
  [/^asked (.+)$/, ({ asked = [] }, [action]) => ({ asked: [...asked, action as JobAction] })],
  [/^complaint (.+)$/, (_, [kind]) => ({ complaints: [kind as Complaint] })],
  [/^fluid (.+)$/, (_, [fluid]) => ({ fluid: fluid as AxleFacts['fluid'] })],
  [/^sensor (left|both)$/, ({ build }, [sensor]) => ({ build: { ...build, sensor: sensor as 'left' | 'both' } })],
  [/^policy ([\w -]+): (.+)$/, ({ policy }, [matter = '', option]) => ({ policy: { ...policy, [matter]: option } })],
  [
    /^prices (\d+) (\d+) (\d+)$/,
    (_, [scuff, machine, replace]) => ({
      prices: { scuff: Number(scuff), machine: Number(machine), replace: Number(replace), discountPerYear: 0.08 },
    }),
  ],
];

function factsOf(given: string): AxleFacts {
  return given.split('; ').reduce((facts, words) => {
    for (const [pattern, change] of GIVENS) {
      const found = pattern.exec(words);
      if (found) return { ...facts, ...change(facts, found.slice(1)) };
    }
    throw new Error(`docs/decisions.md says “${words}”, which this test can’t read`);
  }, sound());
}

const inWords = (facts: AxleFacts) =>
  decide(facts)
    .scope.map(
      ({ action, sides, mandatory }) =>
        `${mandatory ? '!' : ''}${action}${sides === 'both' ? '' : ` ${sides.join(' ')}`}`,
    )
    .sort();

describe('what is proposed', () => {
  it.each(table)('$rule: $given → $proposed', ({ given, proposed }) => {
    expect(inWords(factsOf(given))).toEqual(proposed === 'nothing' ? [] : proposed.split('; ').sort());
  });

  it('has a row of the table for every rule, in which it fires', () => {
    for (const rule of RULE_IDS) {
      const own = table.filter((row) => row.rule === rule);
      const fires = own.filter(({ given }) => decide(factsOf(given)).fired.some((one) => one.rule === rule));
      expect([rule, fires.length > 0]).toEqual([rule, true]);
    }
  });

  it('has a row for every state of the catalogue that asks for something', () => {
    const told = table.map(({ given }) => given).join('\n');
    for (const [item, { states }] of Object.entries(FINDING_CATALOGUE))
      for (const { state, actions } of states) if (actions) expect(told).toContain(`${item} ${state}`);
  });

  it('names the figures each rule was given', () => {
    const [one] = decide(factsOf('pads 2.9')).fired;
    expect(one).toEqual({
      rule: 'pads at the service limit',
      action: 'pads',
      mandatory: true,
      inputs: { thinnestMm: 2.9, limitMm: 3 },
    });
  });

  it('forbids driving below the legal limit and with a cracked rotor, and says nothing of a sound axle', () => {
    expect(decide(factsOf('law 3.2; pads 3.1')).severity).toBe('do not drive');
    // 49 CFR 393.47 (from memory): not less than 3.2 mm; exactly that passes.
    expect(decide(factsOf('law 3.2; pads 3.2')).severity).toBeUndefined();
    expect(decide(factsOf('find left rotor cracked')).severity).toBe('do not drive');
    expect(decide(factsOf('nothing')).severity).toBeUndefined();
  });
});
