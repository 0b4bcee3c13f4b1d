import { randomUUID } from 'node:crypto';
import type { JobKit, Part, StockRow } from '@mile-mark/contract/parts';
import { computePool } from '../compute.ts';
import { planParts } from '../features/parts/index.ts';
import { createTestApp, TODAY, type TestApp } from './app.ts';

export const DEPOT = 'Creamery yard';

/** The fields that a refusal names. */
export const fieldsOf = ({ body }: { body: { errors?: { field: string; message: string }[] } }): string[] =>
  (body.errors ?? []).map(({ field }) => field);

export type Agent = Awaited<ReturnType<TestApp['as']>>;
export type PartsApp = Awaited<ReturnType<typeof createPartsApp>>;

/** The application with the demo fleet, its parts and a plan; with what tests of parts do again and again. */
export async function createPartsApp() {
  const test = await createTestApp({ demo: { vehicles: 60, marks: 'learnt', parts: true } });
  const [keeper, technician, viewer] = await Promise.all([
    test.as('parts keeper'),
    test.as('technician'),
    test.as('viewer'),
  ]);
  const plan = () => planParts(test.orm.em.fork(), computePool(0), TODAY);
  const items = async <T>(path: string, who: Agent = keeper) => (await who.get(path).expect(200)).body.items as T[];
  const sql = async <T>(text: string, values: unknown[] = []) => test.orm.em.fork().execute<T[]>(text, values);
  const move = (body: Record<string, unknown>, who: Agent = keeper) =>
    who.post('/api/stock/movements').send({ id: randomUUID(), ...body });
  const partNamed = async (number: string) => (await items<Part>('/api/parts')).find((part) => part.number === number);
  const openKits = () => items<JobKit>('/api/job-kits');
  const bookedKit = async (): Promise<JobKit> => {
    const kit = (await openKits()).find(({ booked, jobState }) => booked && jobState === 'booked');
    if (!kit) throw new Error('the demo has no booked job');
    return kit;
  };
  const stockUp = async (kit: JobKit, except: (kind: string) => boolean = () => false): Promise<void> => {
    for (const { kind, options } of kit.needs) {
      const [first] = options;
      if (!first || except(kind)) continue;
      const part = await partNamed(first.part);
      await move({
        kind: 'receive',
        part: first.part,
        depot: kit.depot,
        bin: 'K-01',
        units: first.units,
        ...(part?.shelfDays ? { expiresOn: '2027-12-01', lot: 'K1' } : {}),
      }).expect(201);
    }
  };
  const emptied = async (kit: JobKit, number: string) => {
    const rows = (await items<StockRow>(`/api/stock?depot=${encodeURIComponent(kit.depot)}`)).filter(
      ({ part, units }) => part === number && units > 0,
    );
    for (const { bin, lot, units } of rows)
      await move({
        kind: 'scrap',
        part: number,
        depot: kit.depot,
        bin,
        ...(lot === null ? {} : { lot }),
        units,
        note: 'emptied for a test',
      }).expect(201);
  };

  return { test, keeper, technician, viewer, plan, items, sql, move, partNamed, openKits, bookedKit, stockUp, emptied };
}
