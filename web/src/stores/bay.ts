import { useQuery } from '@tanstack/react-query';
import type { Bay } from '@mile-mark/contract/inspections';
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

/** The vehicles with what is expected of them: from the server, kept on the device, and from there without a network. */
export function useBay() {
  return useQuery({
    queryKey: ['bay'],
    staleTime: 60_000,
    refetchInterval: 300_000,
    retry: false,
    queryFn: async (): Promise<BayState> => {
      try {
        const bay = await request('bay', {});
        const heard = { today: bay.today, here: dayHere() };
        await device.bay.put({ key: 'bay', bay, heard });
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
