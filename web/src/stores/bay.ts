import { useQuery } from '@tanstack/react-query';
import type { Bay, BayAnswer } from '@mile-mark/contract/inspections';
import { isPassing } from '../api/client.ts';
import { request } from '../api/request.ts';
import { device } from './device.ts';
import { dayHere, type DayHeard, dayOnDevice } from './deviceDay.ts';

/** What capture needs, and whether it comes from the device because the network is cut. */
export interface BayState {
  bay: Bay;
  kept: boolean;
  heard: DayHeard;
}

/**
 * The bundle as it stands: what changed since the one on the device, put together with it; the whole where the device has
 * none, or lacks something all the same. It is kept on the device.
 */
async function bayNow(): Promise<Bay> {
  const before = await device.bay.get('bay');
  const since = before?.cursor === undefined ? {} : { query: { since: before.cursor } };
  const answer = putTogether(await request('bay', since), before?.bay) ?? (await request('bay', {}));
  const { whole: _whole, fleet: _fleet, cursor, ...bay } = answer;
  await device.bay.put({ key: 'bay', bay, cursor, heard: { today: bay.today, here: dayHere() } });
  return bay;
}

/** An answer's bundle with the vehicles that did not change; undefined where one of them is not there. */
export function putTogether(answer: BayAnswer, before: Bay | undefined): BayAnswer | undefined {
  if (answer.whole) return answer;
  const byUnit = new Map([...(before?.vehicles ?? []), ...answer.vehicles].map((vehicle) => [vehicle.unit, vehicle]));
  const vehicles = answer.fleet.flatMap(({ unit }) => byUnit.get(unit) ?? []);
  return vehicles.length === answer.fleet.length ? { ...answer, vehicles } : undefined;
}

/** The vehicles with what is expected of them: from the server, kept on the device, and from there without a network. */
export function useBay() {
  return useQuery({
    queryKey: ['bay'],
    staleTime: 60_000,
    refetchInterval: 300_000,
    retry: false,
    queryFn: async (): Promise<BayState> => {
      try {
        const bay = await bayNow();
        const heard = { today: bay.today, here: dayHere() };
        return { bay, kept: false, heard };
      } catch (error) {
        if (!isPassing(error)) throw error;
        const found = await device.bay.get('bay');
        if (!found) throw error;
        const { bay, heard = { today: bay.today, here: dayHere() } } = found;
        // A look is of the day on which it is taken, not of the one on which the device last had a network.
        const today = dayOnDevice(heard);
        return { bay: { ...bay, today: today > bay.today ? today : bay.today }, kept: true, heard };
      }
    },
  });
}
