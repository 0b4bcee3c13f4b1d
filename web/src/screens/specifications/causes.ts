import type { Coverage } from '@mile-mark/contract/specifications';

export type Unreached = Coverage['unreachable'][number];

/** Rows with one cause together: a tool out of calibration blocks many joints and is one thing to do. */
export function byCause(rows: Unreached[]): { key: string; rows: Unreached[] }[] {
  const groups = new Map<string, Unreached[]>();
  for (const row of rows) {
    const key = row.overdue
      ? `${row.depot} ${row.overdue.tool}`
      : `${row.depot} ${row.model} ${row.joint} ${row.torque}`;
    groups.set(key, [...(groups.get(key) ?? []), row]);
  }
  return [...groups].map(([key, own]) => ({ key, rows: own }));
}
