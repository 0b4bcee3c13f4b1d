import type { JobProposal, ScopeItem } from '@mile-mark/contract/jobs';
import type { AxleDetail } from '@mile-mark/contract/forecasts';
import { firedInWords } from '@mile-mark/contract/words';
import { dayNumber, decide, type AxleFacts, type Decision } from '@mile-mark/core';
import { z } from 'zod';
import type { EntityManager } from '../../../platform/db/orm.ts';
import { rowsOf } from '../../../platform/db/rows.ts';
import { vehicleOfUnit } from '../../register/index.ts';
import { vehicleFacts, type VehicleFacts } from '../facts.ts';

/** An axle's scope as the rules propose it. */
export function scopeOf({ scope }: Decision): ScopeItem[] {
  return scope.map(({ action, sides, mandatory, rules }) => ({ action, sides, mandatory, rules, reason: null }));
}

/** Why each rule that fired did, in words, for the record of a job. */
export function becauseOf({ fired }: Decision): { rule: string; action: ScopeItem['action']; text: string }[] {
  const told = new Set<string>();
  return fired.flatMap(({ rule, action, inputs }) => {
    const text = firedInWords({ rule, inputs });
    if (told.has(`${action} ${text}`)) return [];
    told.add(`${action} ${text}`);
    return [{ rule, action, text }];
  });
}

/** Marks of two axles that lie within so many days are worth one visit (common practice, no source). */
const NEAR_DAYS = 90;

/** What one visit for several axles saves, against what is thrown away of the later ones. */
function bundlingOf({ details }: VehicleFacts): JobProposal['bundling'] {
  const marked = details
    .flatMap(({ axle, mark }) => (mark ? [{ axle, day: dayNumber(mark.markDate), milesPerDay: mark.milesPerDay }] : []))
    .sort((a, b) => a.day - b.day);
  const [first] = marked;
  const near = marked.filter(({ day }) => first && day - first.day <= NEAR_DAYS);
  const last = near.at(-1);
  if (!first || !last || near.length < 2) return null;
  const earlyDays = last.day - first.day;
  const miles = Math.round(earlyDays * last.milesPerDay);
  const visits = near.length - 1;
  const axles = near.map(({ axle }) => axle);
  return {
    axles,
    earlyDays,
    text: `Axles ${axles.join(' and ')} at one visit save ${visits === 1 ? 'a visit' : `${visits} visits`}; the later one is done ${earlyDays} days early, about ${miles.toLocaleString('en-US')} miles of its pads thrown away.`,
  };
}

/** How thick the thinner rotor is taken to be, and how that is known. */
function rotorNowOf({ decision }: AxleDetail, { rotor }: AxleFacts): JobProposal['axles'][number]['rotorNow'] {
  if (!rotor) return null;
  const outlook = decision?.rotor;
  return { mm: rotor.thicknessMm, sdMm: outlook?.sdMm ?? 0, measured: (outlook?.measured ?? 1) > 0 };
}

export async function jobProposal(em: EntityManager, unit: string, today: string): Promise<JobProposal> {
  const vehicle = await vehicleOfUnit(em, unit, 'unit');
  const facts = await vehicleFacts(em, vehicle, today);
  const [around] = await rowsOf(
    em,
    z.object({
      depot: z.string(),
      open: z.string().nullable(),
      people: z.array(z.object({ id: z.string(), name: z.string() })),
    }),
    `select y.name as depot,
       (select j.id from job j where j.vehicle_id = v.id and j.state in ('proposed', 'booked', 'in work')) as open,
       (select coalesce(jsonb_agg(jsonb_build_object('id', p.id, 'name', p.name) order by p.name), '[]') from person p
         where p.role in ('technician', 'coordinator') and p.left_on is null) as people
     from vehicle v join depot y on y.id = v.depot_id where v.id = ?`,
    [vehicle.id],
  );
  if (!around) throw new Error('a vehicle without a depot');
  return {
    unit: vehicle.unit,
    today,
    depot: around.depot,
    currency: facts.currency,
    openJobId: around.open,
    axles: facts.details.map((detail) => {
      const own = facts.axles.get(detail.axle) as AxleFacts;
      const decision = decide(own);
      const byHand = decision.scope.length > 0 ? undefined : decide({ ...own, asked: ['pads'] });
      return {
        axle: detail.axle,
        markDate: detail.mark?.markDate ?? null,
        scope: scopeOf(decision),
        withPads: byHand ? scopeOf(byHand) : [],
        because: becauseOf(byHand ?? decision),
        rotors: decision.rotors.map(({ option, bar, thicknessMm, perMile }) => ({
          option,
          bar: bar ?? null,
          thicknessMm,
          perMileMinor: perMile ?? null,
        })),
        rotorNow: rotorNowOf(detail, own),
        severity: decision.severity ?? null,
      };
    }),
    bundling: bundlingOf(facts),
    people: around.people,
  };
}
