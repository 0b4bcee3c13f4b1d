import { mailStandIn, supplierStandIn } from '@mile-mark/standins';
import { DEMO_TODAY } from './cast.ts';

const SEED = 12;

/** Starts the stand-in of the demo's suppliers, on loopback; returns where it is. */
export async function startDemoSupplier(): Promise<string> {
  const { url } = await supplierStandIn({
    seed: SEED,
    today: () => DEMO_TODAY,
    leadDays: 3,
    failing: 0.1,
  });
  return url;
}

/** Starts the stand-in of the demo's mail service, on loopback; returns where it is. */
export async function startDemoMail(): Promise<string> {
  return (await mailStandIn({ seed: SEED, failing: 0.1 })).url;
}
