import { z } from 'zod';
import { MATTER_NAMES, MATTERS, type Matter } from '@mile-mark/core';
import { Name, SeenRevision } from '../common.ts';

export const MatterName = z.enum(MATTER_NAMES as unknown as [Matter, ...Matter[]]);

/** Whom a setting is of. */
export const PolicyLevel = z.enum(['fleet', 'class', 'model']);

/** One matter settled; the newest of a level counts. */
const PolicySetting = z.object({
  matter: MatterName,
  level: PolicyLevel,
  /** The class or the model's name; blank for the fleet. */
  subject: z.string(),
  option: z.string(),
  reason: z.string().nullable(),
  by: z.string(),
  on: z.string(),
});

export const ShopPolicyView = z.object({
  /** Every matter with its options and what the fleet does. */
  matters: z.array(
    z.object({ matter: MatterName, options: z.array(z.string()), fleet: z.string(), whens: z.array(z.string()) }),
  ),
  /** What was settled, newest first: the first of a matter, level and subject counts. */
  settings: z.array(PolicySetting),
  revision: z.int(),
});
export type ShopPolicyView = z.infer<typeof ShopPolicyView>;

export const PolicyChange = z
  .object({
    matter: MatterName,
    level: PolicyLevel.default('fleet'),
    subject: Name.optional(),
    option: z.string().max(60),
    reason: z.string().trim().max(300).optional(),
    revision: SeenRevision,
  })
  .refine(({ matter, option }) => (MATTERS[matter] as readonly string[]).includes(option), {
    path: ['option'],
    error: 'One of the options of this matter is accepted.',
  })
  .refine(({ level, subject }) => (level === 'fleet') === (subject === undefined), {
    path: ['subject'],
    error: 'A class or a model is named for these levels, and none for the fleet.',
  });
export type PolicyChange = z.input<typeof PolicyChange>;
