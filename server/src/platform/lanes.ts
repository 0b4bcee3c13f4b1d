/** Does what it is given, so much of it at a time; the rest waits in the order it came. */
export type Lanes = <T>(work: () => Promise<T>) => Promise<T>;

/** @param most how much is under way at a time, at least one */
export function lanes(most: number): Lanes {
  let free = Math.max(1, most);
  const waiting: (() => void)[] = [];
  const enter = async () => {
    if (free > 0) free -= 1;
    else await new Promise<void>((resolve) => waiting.push(resolve));
  };
  const leave = () => {
    const next = waiting.shift();
    if (next) next();
    else free += 1;
  };
  return async (work) => {
    await enter();
    try {
      return await work();
    } finally {
      leave();
    }
  };
}
