import {
  dateOfDay,
  dayNumber,
  DEFAULT_POLICY,
  buildOf,
  kitOf,
  seededRandom,
  type KitPart,
  type Side,
} from '@mile-mark/core';
import type { EntityManager } from '../platform/db/orm.ts';
import { rowsOf } from '../platform/db/rows.ts';
import { z } from 'zod';
import { DEMO_TODAY, DEPOTS, STAFF } from './cast.ts';
import { MODELS, rotorDiameterMm, type DemoModel } from './castModels.ts';
import { AXLE_KINDS, codeOf, CONSUMABLES, MAKERS, SUPPLIERS } from './partsCast.ts';
import { picksOfClosed } from './fillPicks.ts';
import { idOf, insert, personId } from './rows.ts';

type Row = Record<string, unknown>;
const KEEPER = personId(STAFF[2].name);
const SEED = 31;

interface Papers {
  part: Row[];
  part_fit: Row[];
  part_offer: Row[];
  stock_movement: Row[];
}

/** Fills catalogue, suppliers, shelves and what closed jobs took, where no part is on record yet. */
export async function insertParts(em: EntityManager): Promise<void> {
  const [{ n } = { n: 0 }] = await rowsOf(em, z.object({ n: z.number() }), 'select count(*)::int as n from part');
  if (n > 0) return;
  await insert(
    em,
    'supplier',
    'id uuid, name text, currency text, lead_days int, order_cost_minor int, freight_minor int, freight_free_minor int',
    SUPPLIERS.map((one) => ({
      id: idOf('supplier', one.name),
      name: one.name,
      currency: 'USD',
      lead_days: one.leadDays,
      order_cost_minor: one.orderCost,
      freight_minor: one.freight,
      freight_free_minor: one.freightFree,
    })),
  );
  const papers: Papers = { part: [], part_fit: [], part_offer: [], stock_movement: [] };
  const shelves = new Shelves(papers, await vehiclesByModel(em));
  for (const model of MODELS) addModel(papers, shelves, model);
  for (const one of CONSUMABLES) addConsumable(papers, shelves, one);
  await insert(
    em,
    'part',
    'id uuid, number text, maker_number text, maker text, name text, kind text, pieces int, content float8, rank int, shelf_days int, exchange_minor int, diameter_mm float8, thickness_mm float8, holes int, retired bool, revision int',
    papers.part.map((part) => ({ retired: false, revision: 1, ...part })),
  );
  await insert(em, 'part_fit', 'id uuid, part_id uuid, model_id uuid, axle int, side text', papers.part_fit);
  await insert(
    em,
    'part_offer',
    'part_id uuid, supplier_id uuid, supplier_number text, price_minor int, currency text, pack int, least int, lead_days int',
    papers.part_offer,
  );
  await insert(em, 'bin', 'id uuid, depot_id uuid, code text', shelves.bins());
  const movement =
    'id uuid, kind text, part_id uuid, bin_id uuid, lot text, expires_on date, units int, job_id uuid, request_id uuid, note text, person_id uuid, moved_on date, at timestamptz';
  await insert(em, 'stock_movement', movement, papers.stock_movement);
  await insert(em, 'stock_movement', movement, await picksOfClosed(em));
  await insertKitChange(em);
}

/** What this co-operative takes other than usual: boots of a van's rear pins with every set of pads. */
async function insertKitChange(em: EntityManager): Promise<void> {
  await em.execute(
    `insert into kit_change (id, model_id, axle, kind, action, quantity, reason, person_id, changed_on, at)
     select ?, ?, 2, 'pin boot set', 'pads', 1, 'Road salt tears them before the second set of pads', p.id, '2026-09-02', '2026-09-02T07:40:00Z'
     from person p where p.role = 'parts keeper' order by p.name limit 1`,
    [idOf('kit change', 'boots'), idOf('model', 'Ostrey Carrier 35')],
  );
}

async function vehiclesByModel(em: EntityManager): Promise<Map<string, number>> {
  const rows = await rowsOf(
    em,
    z.object({ key: z.string(), n: z.number() }),
    `select m.name || '/' || d.name as key, count(*)::int as n from vehicle v join model m on m.id = v.model_id join depot d on d.id = v.depot_id group by 1`,
  );
  return new Map(rows.map(({ key, n }) => [key, n]));
}

/** Kinds that an axle takes over its life, with how many pieces. */
function kindsOf({ brake, brakeDetail }: DemoModel['axles'][number]): { kind: KitPart; side: Side | 'both' }[] {
  const build = buildOf(brake, brakeDetail);
  const actions = ['pads', 'rotors new', 'calipers', 'hose', 'pin boots', 'bracket', 'hardware', 'sensor'] as const;
  return kitOf(
    [
      {
        axle: 1,
        brake,
        build,
        scope: actions.map((action) => ({ action, sides: 'both' })),
        joints: [],
        unknownJoints: [],
      },
    ],
    DEFAULT_POLICY,
  ).map(({ part, side }) => ({ kind: part, side }));
}

function addModel(papers: Papers, shelves: Shelves, model: DemoModel): void {
  model.axles.forEach((axle, index) => {
    for (const { kind, side } of kindsOf(axle)) {
      const cast = AXLE_KINDS[kind];
      if (!cast) continue;
      const sides: (Side | 'both')[] = cast.handed ? ['left', 'right'] : [side];
      for (const own of sides) {
        const tail = own === 'both' ? '' : own === 'left' ? '-L' : '-R';
        const number = `${cast.code}-${codeOf(model)}-${index + 1}${tail}`;
        const handed = own === 'both' ? '' : `, ${own}`;
        const thickness =
          kind === 'brake pad' ? axle.padNew + axle.plate : kind === 'rotor' ? axle.rotor?.[0] : undefined;
        addPart(papers, shelves, {
          number,
          name: `${cast.name}${handed}, ${model.name} axle ${index + 1}`,
          kind,
          maker: MAKERS.own,
          pieces: cast.pieces,
          price: cast.price[model.class],
          pack: cast.pack ?? 1,
          exchange: cast.exchange,
          thickness,
          diameter: kind === 'rotor' ? rotorDiameterMm(model.class, index) : undefined,
          holes: kind === 'rotor' ? (model.class === 'heavy' ? 10 : 6) : undefined,
          fit: { model: model.name, axle: index + 1, side: own },
          each: cast.stock,
        });
        if (kind === 'brake pad') addOther(papers, shelves, model, index, number, cast.price[model.class]);
      }
    }
  });
}

/** The other maker's pads, cheaper, second choice. */
function addOther(
  papers: Papers,
  shelves: Shelves,
  model: DemoModel,
  index: number,
  number: string,
  price: number,
): void {
  addPart(papers, shelves, {
    number: `${number}-M`,
    name: `Pad set, ${model.name} axle ${index + 1}`,
    kind: 'brake pad',
    maker: MAKERS.other,
    pieces: 4,
    price: Math.round(price * 0.7),
    pack: 1,
    rank: 2,
    fit: { model: model.name, axle: index + 1, side: 'both' },
    each: 0.04,
  });
}

function addConsumable(papers: Papers, shelves: Shelves, one: (typeof CONSUMABLES)[number]): void {
  addPart(papers, shelves, {
    number: one.number,
    name: one.name,
    kind: one.kind,
    maker: 'Tarrow Chemicals',
    pieces: one.pieces ?? 1,
    content: one.content,
    price: one.price,
    pack: one.pack,
    shelfDays: one.shelfDays,
    fit: undefined,
    each: one.stock,
  });
}

interface DemoPart {
  number: string;
  name: string;
  kind: KitPart;
  maker: string;
  pieces: number;
  content?: number | undefined;
  price: number;
  pack: number;
  rank?: number;
  exchange?: number | undefined;
  shelfDays?: number | undefined;
  thickness?: number | undefined;
  diameter?: number | undefined;
  holes?: number | undefined;
  fit: { model: string; axle: number; side: Side | 'both' } | undefined;
  each: number;
}

function addPart(papers: Papers, shelves: Shelves, one: DemoPart): void {
  const id = idOf('part', one.number);
  papers.part.push({
    id,
    number: one.number,
    maker_number: `${one.maker.slice(0, 2).toUpperCase()}${10_000 + (Number.parseInt(id.slice(0, 4), 16) % 90_000)}`,
    maker: one.maker,
    name: one.name,
    kind: one.kind,
    pieces: one.pieces,
    content: one.content ?? null,
    rank: one.rank ?? 1,
    shelf_days: one.shelfDays ?? null,
    exchange_minor: one.exchange ?? null,
    diameter_mm: one.diameter ?? null,
    thickness_mm: one.thickness ?? null,
    holes: one.holes ?? null,
  });
  if (one.fit)
    papers.part_fit.push({
      id: idOf('fit', one.number),
      part_id: id,
      model_id: idOf('model', one.fit.model),
      axle: one.fit.axle,
      side: one.fit.side,
    });
  const [first, second] = SUPPLIERS;
  const offers = one.rank === 2 ? [second] : one.fit ? [first] : [first, second];
  offers.forEach((supplier, i) =>
    papers.part_offer.push({
      part_id: id,
      supplier_id: idOf('supplier', supplier.name),
      supplier_number: `${supplier.name.slice(0, 2).toUpperCase()}-${one.number}`,
      price_minor: Math.round(one.price * (1 - 0.04 * i)),
      currency: 'USD',
      pack: one.pack,
      least: 1,
      lead_days: null,
    }),
  );
  shelves.fill(one, id);
}

/** Where things lie: one bin a part and depot, filled by how many vehicles of the depot take it. */
class Shelves {
  private readonly random = seededRandom(SEED);
  private readonly made = new Map<string, Row>();
  private readonly next = new Map<string, number>();
  private readonly papers: Papers;
  private readonly vehicles: ReadonlyMap<string, number>;
  constructor(papers: Papers, vehicles: ReadonlyMap<string, number>) {
    this.papers = papers;
    this.vehicles = vehicles;
  }

  bins(): Row[] {
    return [...this.made.values()];
  }

  fill({ number, fit, each, shelfDays }: DemoPart, partId: string): void {
    for (const depot of DEPOTS) {
      const axles = fit ? (this.vehicles.get(`${fit.model}/${depot}`) ?? 0) : 1;
      if (axles === 0) continue;
      const units = Math.floor(axles * each + this.random());
      const at = this.next.get(depot) ?? 0;
      this.next.set(depot, at + 1);
      if (units === 0) continue;
      const code = `${String.fromCharCode(65 + Math.floor(at / 20))}-${String((at % 20) + 1).padStart(2, '0')}`;
      const binId = idOf('bin', depot, code);
      this.made.set(binId, { id: binId, depot_id: idOf('depot', depot), code });
      const soon = shelfDays !== undefined && depot === DEPOTS[0];
      this.put(partId, binId, soon ? Math.ceil(units / 2) : units, { number, days: shelfDays, used: 0.5 });
      if (soon && units > 1) this.put(partId, binId, Math.floor(units / 2), { number, days: shelfDays, used: 0.97 });
    }
  }

  private put(
    partId: string,
    binId: string,
    units: number,
    { number, days, used }: { number: string; days: number | undefined; used: number },
  ): void {
    const expires = days === undefined ? null : dateOfDay(dayNumber(DEMO_TODAY) + Math.round(days * (1 - used)));
    this.papers.stock_movement.push({
      id: idOf('opening', number, binId, used),
      kind: 'receive',
      part_id: partId,
      bin_id: binId,
      lot: days === undefined ? null : `L${idOf('lot', binId, used).slice(0, 4).toUpperCase()}`,
      expires_on: expires,
      units,
      job_id: null,
      request_id: idOf('opening', number, binId),
      note: 'Counted when stock was first put on record',
      person_id: KEEPER,
      moved_on: '2026-06-01',
      at: '2026-06-01T08:00:00Z',
    });
  }
}
