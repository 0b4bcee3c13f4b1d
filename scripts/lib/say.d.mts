/** Prints a line about what the set-up does. */
export function say(text: any): void;
/** Ends with a message a person can act on. */
export function giveUp(text: any): void;
