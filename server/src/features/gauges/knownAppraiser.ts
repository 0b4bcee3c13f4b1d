import { z } from 'zod';

/** What is known of an appraiser, as its row has it. */
export const KnownAppraiser = z.object({
  technician_id: z.string(),
  gauge_id: z.string(),
  bias_mm: z.number(),
  bias_sd_mm: z.number(),
  repeatability_mm: z.number(),
});
