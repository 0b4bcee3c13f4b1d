import { describe, expect, it } from '@jest/globals';
import { NewModel } from '@mile-mark/contract/register';
import { blankAxle, changesOfDraft, draftOfModel, figuresOfDraft } from './modelDraft.ts';

const AXLE = {
  axle: 1,
  brake: 'hydraulic' as const,
  brakeDetail: 'hydraulic sliding',
  padNewMm: 12,
  backingPlateMm: 5.8,
  padMakerMinMm: 2,
  rotorNewMm: 28,
  rotorDiscardMm: 26,
  rotorMachineToMm: null,
  rotorDiameterMm: null,
  pistonsMm: '2x48',
  brakeShare: 0.7,
};
const MODEL = {
  id: '0c2f5b1e-27f2-4b43-9a0b-6f1b8d1a9c11',
  name: 'Fenby Hauler',
  class: 'pickup' as const,
  tareKg: 2350,
  gvwrKg: 3400,
  axles: [AXLE, { ...AXLE, axle: 2, pistonsMm: null, brakeShare: 0.3 }],
  revision: 3,
  vehicles: 2,
  released: [],
};

describe('a model as it is typed', () => {
  it('says the same as what it was drawn from', () => {
    const { id: _id, revision: _rev, vehicles: _v, released: _r, ...figures } = MODEL;
    expect(figuresOfDraft(draftOfModel(MODEL))).toEqual(figures);
    expect(changesOfDraft(draftOfModel(MODEL), draftOfModel(MODEL))).toEqual([]);
  });

  it('tells each figure that is another, from and to, and axles that come or go', () => {
    const was = draftOfModel(MODEL);
    const [front, rear] = was.axles as [(typeof was.axles)[0], (typeof was.axles)[0]];
    const now = {
      ...was,
      gvwrKg: '3500 ',
      axles: [{ ...front, padNewMm: '12,5', rotorDiameterMm: '302' }, blankAxle(3)],
    };
    expect(changesOfDraft(was, now)).toEqual([
      { label: 'GVWR, kg', from: '3400', to: '3500' },
      { label: 'Axle 1: New pad, mm', from: '12', to: '12,5' },
      { label: 'Axle 1: Rotor diameter, mm', from: 'blank', to: '302' },
      { label: 'Axle 3', from: 'none', to: 'added' },
      { label: `Axle ${rear.axle}`, from: 'on record', to: 'removed' },
    ]);
  });

  it.each([
    ['a comma for a point', '12,5', 12.5],
    ['spaces around it', ' 11.9 ', 11.9],
  ])('takes %s', (_what, typed, figure) => {
    const was = draftOfModel(MODEL);
    const axles = was.axles.map((axle) => ({ ...axle, padNewMm: typed }));
    expect(figuresOfDraft({ ...was, axles }).axles[0]?.padNewMm).toBe(figure);
  });

  it.each([
    ['no figure', 'padNewMm', 'twelve'],
    ['a blank that is needed', 'brakeShare', ''],
    ['no figure where none is needed', 'rotorNewMm', '28 mm?'],
  ] as const)('is refused at its field with %s', (_what, key, typed) => {
    const was = draftOfModel(MODEL);
    const axles = was.axles.map((axle) => ({ ...axle, [key]: typed }));
    const parsed = NewModel.safeParse({ id: MODEL.id, ...figuresOfDraft({ ...was, axles }) });
    expect(parsed.error?.issues.map(({ path }) => path.join('.'))).toContain(`axles.0.${key}`);
  });
});
