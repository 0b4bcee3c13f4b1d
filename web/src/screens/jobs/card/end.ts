/** The end of a card, where it is closed; no step of its own. */
export const END = 'end';
