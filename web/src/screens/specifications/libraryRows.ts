import { jointsOfBrake } from '@mile-mark/core';
import type { JointKindRow, JointValues, LibraryModel, Specification } from '@mile-mark/contract/specifications';

/** How far a model is, in words. */
export function howFar({ vehicles, axles }: LibraryModel): string {
  const lacking = axles.reduce((sum, one) => sum + one.lacking, 0);
  const open = axles.reduce((sum, one) => sum + one.open, 0);
  const parts = [
    `${vehicles} ${vehicles === 1 ? 'vehicle' : 'vehicles'}`,
    lacking > 0 ? `${lacking} unknown` : 'complete',
    ...(open > 0 ? [`${open} to release`] : []),
  ];
  return parts.join(' · ');
}

/** A row of an axle's table. */
export interface Row {
  key: string;
  kind: JointKindRow | null;
  name: string;
  specification: Specification | undefined;
}

/** The rows of an axle: the axle as a whole, then its joints; expected ones that nobody entered stand as unknown. */
export function rowsOf(
  kinds: readonly JointKindRow[],
  brake: 'hydraulic' | 'air',
  own: readonly Specification[],
): Row[] {
  const whole = own.find(({ joint }) => joint === null);
  return [
    { key: 'axle', kind: null, name: 'Limits, fluid, bed-in', specification: whole },
    ...jointsOfBrake(kinds, brake).flatMap((kind): Row[] => {
      const there = own.filter(({ joint }) => joint?.id === kind.id);
      if (there.length === 0 && !kind.expected) return [];
      if (there.length === 0) return [{ key: kind.id, kind, name: kind.name, specification: undefined }];
      return there.map((specification) => ({
        key: specification.id,
        kind,
        name: specification.position ? `${kind.name}, ${specification.position}` : kind.name,
        specification,
      }));
    }),
  ];
}

/** `5 × M14x1.5, 19 mm`. */
export function fastenerInWords({ thread, headSize, count }: JointValues['fastener']): string {
  const what = [thread, headSize].filter((part) => part).join(', ');
  return count !== null && what !== '' ? `${count} × ${what}` : what;
}
