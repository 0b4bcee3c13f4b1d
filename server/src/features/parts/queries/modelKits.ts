import type { ModelKitLine, ModelKits, ModelKitWork } from '@mile-mark/contract/parts';
import {
  betaQuantile,
  buildInWords,
  BY_CHANCE,
  type Chance,
  type JobAction,
  kitFrom,
  kitOf,
  type KitLine,
  meanChance,
  type ShopPolicy,
} from '@mile-mark/core';
import { z } from 'zod';
import type { EntityManager } from '../../../platform/db/orm.ts';
import { rowsOf } from '../../../platform/db/rows.ts';
import { ApiError } from '../../../platform/errors.ts';
import { kitChanges, kitVersion, policyOfModel, type KitChangeRow, type KitVersion } from '../../jobs/index.ts';
import { loadCatalogue, type Catalogue } from '../catalogue.ts';
import { cardAxle, Disc, placeOf } from '../kits.ts';
import { usesOf, type Uses } from '../uses.ts';
import { faultInWords } from './jobKits.ts';

/** What every set of pads goes with. */
const WITH_PADS: readonly JobAction[] = ['pads', 'hardware', 'sensor'];
/** Works that some jobs do beside, the usual ones first. */
const BESIDE: readonly JobAction[] = ['rotors new', 'pin boots', 'calipers', 'hose', 'bracket', 'bleed'];

const AxleSql = z.object({
  id: z.string(),
  name: z.string(),
  class: z.string(),
  axle: z.number(),
  disc: Disc,
  brake: z.enum(['hydraulic', 'air']),
  detail: z.string(),
});

type AxleRow = z.output<typeof AxleSql>;

interface Around {
  catalogue: Catalogue;
  policy: ShopPolicy;
  kits: KitVersion;
  uses: Uses;
}

/** The kits of a model by axle and work. @throws ApiError `not_found` */
export async function modelKits(em: EntityManager, model: string): Promise<ModelKits> {
  const axles = await rowsOf(
    em,
    AxleSql,
    `select m.id, m.name, m.class, x.axle, x.brake, x.brake_detail as detail, x.rotor_diameter_um as disc from model m join model_axle x on x.model_id = m.id
     where lower(m.name) = lower(?) order by x.axle`,
    [model],
  );
  const [first] = axles;
  if (!first) throw new ApiError('not_found', `There is no model ${model} with axles on record.`);
  const rows = await kitChanges(em);
  const kits = kitVersion(rows, first.id);
  const around = {
    catalogue: await loadCatalogue(em),
    policy: await policyOfModel(em, first),
    kits,
    uses: await usesOf(em),
  };
  return {
    model: first.name,
    version: kits.version,
    axles: axles.map((row) => axleKits(row, around)),
    changes: historyOf(
      rows.filter(({ model_id }) => model_id === first.id),
      kits,
    ),
  };
}

function axleKits(row: AxleRow, around: Around): ModelKits['axles'][number] {
  const { policy, kits, uses, catalogue } = around;
  const axleDoing = (actions: readonly JobAction[]) =>
    cardAxle(
      row.axle,
      row.brake,
      row.detail,
      actions.map((action) => ({ action, sides: 'both' as const })),
    );
  const linesOf = (actions: readonly JobAction[]) => kitOf([axleDoing(actions)], policy, kits.changes);
  const always = linesOf(WITH_PADS);
  const works: [readonly JobAction[], KitLine[]][] = [
    [WITH_PADS, always],
    // What is taken with the pads already is not told again; more of it is.
    ...BESIDE.map((action): [JobAction[], KitLine[]] => [
      [action],
      linesOf([action]).filter((line) => !always.some((one) => sameLine(one, line))),
    ]),
  ];
  const place = new Map([[row.axle, placeOf(row.id, row.axle, row.disc)]]);
  const chances = uses.at(row.id, row.axle);
  const faults = new Set<string>();
  return {
    axle: row.axle,
    build: buildInWords(axleDoing([]).build),
    works: works
      .filter(([, lines]) => lines.length > 0)
      .map(([[action = 'pads'], lines]): ModelKitWork => {
        const kit = kitFrom(lines, place, catalogue.parts);
        for (const fault of kit.faults) faults.add(faultInWords(fault));
        return {
          action,
          chance: action === 'pads' ? null : chanceDto(chanceOf(chances, action), uses.jobsAt(row.id, row.axle)),
          lines: kit.needs.map((need): ModelKitLine => {
            const line = lines.find(({ part }) => part === need.kind);
            const changed = kits.changes.find(
              (one) => one.axle === row.axle && one.kind === need.kind && actionsOf(action).includes(one.action),
            )?.row;
            return {
              kind: need.kind,
              side: need.side,
              pieces: need.pieces,
              amount: need.amount ?? null,
              oneTimeUse: line?.oneTimeUse ?? false,
              options: need.options.map(({ part, units }) => ({
                part: catalogue.byId.get(part)?.number ?? '',
                name: catalogue.byId.get(part)?.name ?? '',
                units,
              })),
              changed: changed ? { by: changed.by, on: changed.on, reason: changed.reason } : null,
            };
          }),
        };
      }),
    faults: [...faults],
  };
}

const sameLine = (a: KitLine, b: KitLine) => a.part === b.part && a.quantity === b.quantity && a.amount === b.amount;
const actionsOf = (action: JobAction): readonly JobAction[] => (action === 'pads' ? WITH_PADS : [action]);

function chanceOf(chances: ReturnType<Uses['at']>, action: JobAction): Chance | undefined {
  const told = Object.entries(BY_CHANCE).find(([, one]) => one.action === action)?.[0] as keyof typeof BY_CHANCE;
  return chances[told];
}

/** Ends of the interval in which a chance lies with 90 %. */
const [LOW, HIGH] = [0.05, 0.95];

function chanceDto(chance: Chance | undefined, jobs: number): ModelKitWork['chance'] {
  if (!chance) return null;
  const { a, b } = chance;
  return { mean: meanChance(chance), low: betaQuantile(LOW, a, b), high: betaQuantile(HIGH, a, b), jobs };
}

/** Every change, the newest first, with the version that it made. */
function historyOf(rows: readonly KitChangeRow[], { changes }: KitVersion): ModelKits['changes'] {
  return rows
    .map((row, i) => {
      const { axle, kind, action, quantity, reason, by, on } = row;
      return {
        version: i + 2,
        axle,
        kind,
        action,
        quantity,
        reason,
        by,
        on,
        counts: changes.some((one) => one.row === row),
      };
    })
    .reverse();
}
