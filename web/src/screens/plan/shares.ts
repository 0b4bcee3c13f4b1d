import type { PlanShares } from '@mile-mark/contract/plan';

/** What a plan’s cost is made of. */
export const SHARE_WORDS: Record<keyof PlanShares, string> = {
  lifeThrownAway: 'pad life given up',
  risk: 'risk of being below a limit',
  outOfService: 'days past the risk target',
  visits: 'visits and time off the road',
  overtime: 'overtime',
  outside: 'outside shop',
  transfers: 'ways to other depots',
  moves: 'bookings moved',
};
