/** Prints a line about what the set-up does. */
export function say(text) {
  process.stdout.write(`${text}\n`);
}

/** Ends with a message a person can act on. */
export function giveUp(text) {
  process.stderr.write(`\n${text}\n`);
  process.exit(1);
}
