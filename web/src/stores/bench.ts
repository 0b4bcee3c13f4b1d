import { useQuery } from '@tanstack/react-query';
import type { BenchModel, BenchOfDepot, TorqueTool } from '@mile-mark/contract/specifications';
import { isPassing } from '../api/client.ts';
import { request } from '../api/request.ts';
import { device } from './device.ts';

/** Bench sheets of a yard's vehicles, and whether they come from the device because the network is cut. */
export interface BenchState {
  yards: BenchOfDepot[];
  kept: boolean;
}

/** Bench sheets of the yard's vehicles: from the server, kept on the device, and from there without a network. */
export function useBench(yard: string) {
  return useQuery({
    queryKey: ['bench', yard],
    staleTime: 60_000,
    refetchInterval: 300_000,
    retry: false,
    queryFn: async (): Promise<BenchState> => {
      try {
        const { items } = await request('depots', {});
        const wanted = items.filter(({ name }) => yard === '' || name === yard);
        const yards = await Promise.all(
          (wanted.length > 0 ? wanted : items).map(({ id }) => request('benchOfDepot', { params: { id } })),
        );
        await device.bench.bulkPut(yards);
        return { yards, kept: false };
      } catch (error) {
        if (!isPassing(error)) throw error;
        const yards = await device.bench.toArray();
        if (yards.length === 0) throw error;
        return { yards, kept: true };
      }
    },
  });
}

/** One vehicle's sheets as the screen shows them. */
export interface BenchOfUnit {
  unit: string;
  depot: string;
  at: string;
  model: BenchModel;
  tools: TorqueTool[];
}

/** The sheets of a unit among those of the yards; undefined where it is of none. */
export function benchOfUnit(yards: readonly BenchOfDepot[], unit: string): BenchOfUnit | undefined {
  for (const { depot, at, vehicles, models, tools } of yards) {
    const own = vehicles.find((vehicle) => vehicle.unit === unit);
    const model = own && models.find(({ id }) => id === own.modelId);
    if (model) return { unit, depot, at, model, tools };
  }
  return undefined;
}
