/** Friction material left between limit and new, 0 to 1. */
export function shareLeft(mm: number, limitMm: number, newMm: number): number {
  return Math.min(1, Math.max(0, (mm - limitMm) / (newMm - limitMm)));
}

/** How wear is coloured, and the word that stands with it: colour never speaks alone. */
export function wearLook(share: number): { colour: string; word: string } {
  if (share > 0.45) return { colour: 'var(--color-slate)', word: 'plenty left' };
  if (share > 0.12) return { colour: 'var(--color-ochre)', word: 'wearing down' };
  return { colour: 'var(--color-brick)', word: share > 0 ? 'near the limit' : 'at or below the limit' };
}
