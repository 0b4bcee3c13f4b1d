import type { AxleKit } from '@mile-mark/contract/parts';
import { allocate, dateOfDay, dayNumber, kitFrom, type Kit, type KitNeed } from '@mile-mark/core';
import type { EntityManager } from '../../../platform/db/orm.ts';
import { kitChanges, kitVersion, policyOfModel } from '../../jobs/index.ts';
import { vehicleOfUnit } from '../../register/index.ts';
import { offerInTime } from '../catalogue.ts';
import { placeOf } from '../kits.ts';
import { axlesAhead, kitAhead } from './axlesAhead.ts';
import { faultInWords } from './jobKits.ts';
import { kitJob, standingOf, type Standing } from './standing.ts';

/** Whether the pads' kits of axles without a job would be there at their marks, after the jobs that come before. */
export async function axleKits(em: EntityManager, unit: string, today: string): Promise<AxleKit[]> {
  const vehicle = await vehicleOfUnit(em, unit, 'unit');
  const rows = (await axlesAhead(em, vehicle.id)).filter((row) => row.job_id === null);
  const [first] = rows;
  const standing = await standingOf(em, today);
  if (!first || standing.catalogue.parts.length === 0) return [];
  const { changes } = kitVersion(await kitChanges(em), first.model_id);
  const policy = await policyOfModel(em, { name: first.model, class: first.class });
  const wanting = rows.map((row) => {
    const place = placeOf(row.model_id, row.axle, row.disc);
    const lines = kitAhead(row, policy, changes);
    return {
      row,
      kit: kitFrom(lines, new Map([[row.axle, place]]), standing.catalogue.parts),
      day: row.mark < today ? today : row.mark,
    };
  });
  const own = wanting.map(({ row, kit, day }) => ({
    job: `axle ${row.axle}`,
    depot: row.depot_id,
    day,
    booked: false,
    needs: kit.needs,
  }));
  const states = allocate([...standing.jobs.map(kitJob), ...own], standing.stock, standing.incoming);
  return wanting.map(({ row, kit, day }) => {
    const state = states.find(({ job }) => job === `axle ${row.axle}`);
    const short = (state?.needs ?? []).filter(({ now }) => now.state === 'short');
    return {
      unit: vehicle.unit,
      axle: row.axle,
      day,
      state: state?.state ?? 'complete',
      until: state?.until ?? null,
      orders: short.flatMap((need) => toOrder(need, standing, day, today)),
      faults: faultsOf(kit),
    };
  });
}

const faultsOf = ({ faults }: Kit): string[] => faults.map(faultInWords);

/** What to order of a part, at whom, and by when so that it is there on the day; today where it is late already. */
export function toOrder({ order }: KitNeed, { catalogue }: Standing, day: string, today: string): AxleKit['orders'] {
  if (!order) return [];
  const part = catalogue.byId.get(order.part);
  const offer = offerInTime(catalogue, order.part, dayNumber(day) - dayNumber(today));
  const latest = dateOfDay(dayNumber(day) - (offer?.lead_days ?? 0));
  return [
    {
      part: part?.number ?? '',
      name: part?.name ?? '',
      units: order.units,
      supplier: offer?.supplier ?? null,
      leadDays: offer?.lead_days ?? null,
      by: latest < today ? today : latest,
    },
  ];
}
