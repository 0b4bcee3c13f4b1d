/** A kind of joint that a wheel end may have. */
export interface JointKind {
  name: string;
  /** The brake it belongs to; null for both. */
  brake: 'hydraulic' | 'air' | null;
  /** Whether every axle with that brake has it, so that its absence from the library is a gap. */
  expected: boolean;
  /** Hollow screws, which hold far less than solid ones of their thread. */
  hollow: boolean;
}

/** The joints that ship with the product; a shop adds its own. Common practice, no source. */
export const SHIPPED_JOINTS: readonly JointKind[] = [
  { name: 'Wheel nut', brake: null, expected: true, hollow: false },
  { name: 'Bracket bolt', brake: 'hydraulic', expected: true, hollow: false },
  { name: 'Carrier bolt', brake: 'air', expected: true, hollow: false },
  { name: 'Guide pin bolt', brake: null, expected: true, hollow: false },
  { name: 'Rotor retaining screw', brake: 'hydraulic', expected: false, hollow: false },
  { name: 'Rotor bolt', brake: 'air', expected: false, hollow: false },
  { name: 'Hose joint', brake: 'hydraulic', expected: true, hollow: true },
  { name: 'Bleeder screw', brake: 'hydraulic', expected: true, hollow: true },
  { name: 'Pad retainer bolt', brake: 'air', expected: true, hollow: false },
  { name: 'Brake chamber nut', brake: 'air', expected: true, hollow: false },
  { name: 'Sensor or harness screw', brake: null, expected: false, hollow: false },
];

/** The joints of an axle with this brake, in the order of the list. */
export function jointsOfBrake<K extends Pick<JointKind, 'brake'>>(
  kinds: readonly K[],
  brake: 'hydraulic' | 'air',
): K[] {
  return kinds.filter((kind) => kind.brake === null || kind.brake === brake);
}
