import { useState } from 'react';
import { parseThickness, type ThicknessUnit } from '@mile-mark/core';
import { figure } from '../../../api/typed.ts';

/** Figures typed with a pad of our own: what is typed goes to the one in hand. */
export function useFigures<K extends string>(names: readonly [K, ...K[]]) {
  const [typed, setTyped] = useState<Record<string, string>>({});
  const [active, setActive] = useState<K>(names[0]);
  const set = (value: string) => setTyped({ ...typed, [active]: value });
  return {
    active,
    setActive,
    typedOf: (name: K) => typed[name] ?? '',
    type: (name: K, value: string) => setTyped({ ...typed, [name]: value }),
    press: (key: string) => set((typed[active] ?? '') + key),
    erase: () => set((typed[active] ?? '').slice(0, -1)),
    /** The figure, not below nought; undefined where it is none, or could be two. */
    valueOf: (name: K): number | undefined => {
      const value = figure(typed[name] ?? '');
      return value >= 0 ? value : undefined;
    },
    /** The thickness in mm, typed in the reader's unit; undefined where it is none. */
    thicknessOf: (name: K, unit: ThicknessUnit): number | undefined => {
      const read = parseThickness(typed[name] ?? '', { unit });
      return read.ok ? read.value.mm : undefined;
    },
    /** Goes to the next that is blank; false where none is. */
    next: (): boolean => {
      const blank = names.find((name) => name !== active && !(typed[name] ?? ''));
      if (blank) setActive(blank);
      return blank !== undefined;
    },
  };
}
