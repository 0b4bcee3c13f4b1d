import { useQuery } from '@tanstack/react-query';
import type { BenchModel, BenchOfDepot, TorqueTool } from '@mile-mark/contract/specifications';
import { isPassing } from '../api/client.ts';
import { request } from '../api/request.ts';
import { device } from './device.ts';

/** Bench sheets of a depot's vehicles, and whether they come from the device because the network is cut. */
export interface BenchState {
  depots: BenchOfDepot[];
  kept: boolean;
}

/** Bench sheets of the depot's vehicles: from the server, kept on the device, and from there without a network. */
export function useBench(depot: string) {
  return useQuery({
    queryKey: ['bench', depot],
    staleTime: 60_000,
    refetchInterval: 300_000,
    retry: false,
    queryFn: async (): Promise<BenchState> => {
      try {
        const { items } = await request('depots', {});
        const wanted = items.filter(({ name }) => depot === '' || name === depot);
        const depots = await Promise.all(
          (wanted.length > 0 ? wanted : items).map(({ id }) => request('benchOfDepot', { params: { id } })),
        );
        await device.bench.bulkPut(depots);
        return { depots, kept: false };
      } catch (error) {
        if (!isPassing(error)) throw error;
        const depots = await device.bench.toArray();
        if (depots.length === 0) throw error;
        return { depots, kept: true };
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

/** The sheets of a unit among those of the depots; undefined where it is of none. */
export function benchOfUnit(depots: readonly BenchOfDepot[], unit: string): BenchOfUnit | undefined {
  for (const { depot, at, vehicles, models, tools } of depots) {
    const own = vehicles.find((vehicle) => vehicle.unit === unit);
    const model = own && models.find(({ id }) => id === own.modelId);
    if (model) return { unit, depot, at, model, tools };
  }
  return undefined;
}
