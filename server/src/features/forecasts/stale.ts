import type { EntityManager } from '../../platform/db/orm.ts';
import { uuidArray } from '../../platform/db/uuidArray.ts';
import type { DomainEvent, Subscriber } from '../../platform/events/bus.ts';
import { vehiclesOf, type EventName } from '../../events.ts';
import type { RefreshQueue } from './jobs/definitions.ts';

interface Rule {
  /** Whose forecasts no longer rest on all that is known: those of the vehicles it names, everybody's, nobody's. */
  forecasts: 'named' | 'all' | 'none';
  /** When appraisers and gauges are to be learnt anew: with the fleet at once, before long once for all, or not. */
  appraisers: 'now' | 'soon' | 'not';
}

/** What becomes stale by what happens: the one rule. */
export const STALE: Record<EventName, Rule> = {
  'readings kept': { forecasts: 'named', appraisers: 'soon' },
  'reading corrected': { forecasts: 'named', appraisers: 'soon' },
  'odometer corrected': { forecasts: 'named', appraisers: 'soon' },
  'question settled': { forecasts: 'named', appraisers: 'soon' },
  'pads fitted': { forecasts: 'named', appraisers: 'soon' },
  'vehicle entered': { forecasts: 'named', appraisers: 'not' },
  'vehicle changed': { forecasts: 'none', appraisers: 'not' },
  'vehicle left': { forecasts: 'named', appraisers: 'not' },
  'model corrected': { forecasts: 'named', appraisers: 'soon' },
  'depot changed': { forecasts: 'none', appraisers: 'not' },
  'change settled': { forecasts: 'named', appraisers: 'not' },
  'duty begun': { forecasts: 'named', appraisers: 'not' },
  'variant stated': { forecasts: 'named', appraisers: 'not' },
  'limit entered': { forecasts: 'all', appraisers: 'not' },
  'settings changed': { forecasts: 'all', appraisers: 'not' },
  'specification released': { forecasts: 'named', appraisers: 'not' },
  'specification withdrawn': { forecasts: 'named', appraisers: 'not' },
  'records imported': { forecasts: 'named', appraisers: 'now' },
  // What came with the whole fleet computed anew goes with it.
  'import taken back': { forecasts: 'named', appraisers: 'now' },
  'row mended': { forecasts: 'named', appraisers: 'soon' },
  'miles driven': { forecasts: 'named', appraisers: 'not' },
  'study measured': { forecasts: 'none', appraisers: 'soon' },
  'study imported': { forecasts: 'none', appraisers: 'now' },
  'stock moved': { forecasts: 'none', appraisers: 'not' },
  'catalogue changed': { forecasts: 'none', appraisers: 'not' },
  'order moved': { forecasts: 'none', appraisers: 'not' },
  'job moved': { forecasts: 'none', appraisers: 'not' },
  'shop changed': { forecasts: 'none', appraisers: 'not' },
  'plan asked': { forecasts: 'none', appraisers: 'not' },
  'plan published': { forecasts: 'none', appraisers: 'not' },
};

const ruleOf = (event: DomainEvent): Rule => STALE[event.name as EventName];

/**
 * Marks forecasts as behind in the transaction that made them so (`input_rev`), and asks for new ones after it. A
 * forecast is behind until it has caught up with the vehicle's revision, whatever becomes of the asking.
 */
export function forecastSubscriber(queue: RefreshQueue): Subscriber {
  return {
    name: 'forecasts',
    within: async (em, event) => {
      const { forecasts } = ruleOf(event);
      if (forecasts === 'all') await em.execute('update vehicle set input_rev = input_rev + 1');
      if (forecasts === 'named') await markBehind(em, vehiclesOf(event));
    },
    after: async (events) => {
      const rules = events.map(ruleOf);
      const ids = new Set(events.filter((event) => ruleOf(event).forecasts === 'named').flatMap(vehiclesOf));
      const whole = events.some((event) => isOfFleet(event)) || ids.size > queue.mostOneByOne;
      if (whole) await queue.fleet();
      else if (ids.size > 0) await queue.vehicles([...ids]);
      if (!whole && rules.some(({ appraisers }) => appraisers === 'soon')) await queue.appraisersSoon();
    },
  };
}

/** Whether an event asks for the whole fleet to be computed anew. */
function isOfFleet(event: DomainEvent): boolean {
  const { forecasts, appraisers } = ruleOf(event);
  if (forecasts === 'all') return true;
  return appraisers === 'now' && (forecasts === 'none' || vehiclesOf(event).length > 0);
}

async function markBehind(em: EntityManager, vehicleIds: string[]): Promise<void> {
  if (vehicleIds.length > 0)
    await em.execute('update vehicle set input_rev = input_rev + 1 where id = any(?::uuid[])', [uuidArray(vehicleIds)]);
}
