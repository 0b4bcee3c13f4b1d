import type { PartDemand } from '@mile-mark/core';
import type { CatalogueOffer } from '../catalogue.ts';

/** What a depot is to order of a part, and why. */
export interface Planned {
  demand: PartDemand;
  offer: CatalogueOffer | undefined;
  onHand: number;
  onOrder: number;
  units: number;
  why: string[];
  /** By when it has to be ordered. */
  latest: string | undefined;
}
