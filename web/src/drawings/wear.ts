/** Friction material left between limit and new, 0 to 1. */
export function shareLeft(mm: number, limitMm: number, newMm: number): number {
  return Math.min(1, Math.max(0, (mm - limitMm) / (newMm - limitMm)));
}

interface WearLook {
  colour: string;
  word: string;
}

/** Every look of wear, from much left to none. */
export const WEAR_LOOKS: readonly [WearLook, WearLook, WearLook, WearLook] = [
  { colour: 'var(--color-slate)', word: 'plenty left' },
  { colour: 'var(--color-ochre)', word: 'wearing down' },
  { colour: 'var(--color-brick)', word: 'near the limit' },
  { colour: 'var(--color-brick)', word: 'at or below the limit' },
];

/** How wear is coloured, and the word that stands with it: colour never speaks alone. */
export function wearLook(share: number): WearLook {
  const [plenty, wearing, near, gone] = WEAR_LOOKS;
  if (share > 0.45) return plenty;
  if (share > 0.12) return wearing;
  return share > 0 ? near : gone;
}
