/** So long a message stands whose button is to be reached, or whose text is long, ms. */
export const TOAST_TO_ACT_MS = 12_000;
