import { figureOf } from '@mile-mark/core';

export const mm = (typed: string): number | undefined => figureOf(typed);
