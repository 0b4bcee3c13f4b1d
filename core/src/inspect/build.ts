/** Calipers of hydraulic brakes, as a shop may say they are. */
export const HYDRAULIC_CALIPERS = [
  'sliding',
  'sliding, pivots up',
  'sliding, lifts off',
  'sliding, outer spring',
  'fixed',
  'unknown',
] as const;
/** Parking brakes of hydraulic axles. */
export const HYDRAULIC_PARKING = ['none', 'drum in hat', 'screw-in piston', 'electronic'] as const;
export const SENSOR_PLACES = ['none', 'left', 'right', 'both'] as const;

/** How an axle's brake is built, as far as it is on record; `unknown` is said on the card and never guessed. */
export interface BrakeBuild {
  caliper: (typeof HYDRAULIC_CALIPERS)[number] | 'air';
  parking: (typeof HYDRAULIC_PARKING)[number] | 'spring brake';
  /** Wheel that carries the wear sensor. */
  sensor: (typeof SENSOR_PLACES)[number];
}

/**
 * Reads a brake as model lists describe it: `hydraulic sliding, drum-in-hat parking brake, wear sensor left`.
 *
 * @param brake the kind on record, which decides where the words say nothing
 */
export function buildOf(brake: 'hydraulic' | 'air', detail: string): BrakeBuild {
  const has = (pattern: RegExp) => pattern.test(detail);
  return {
    caliper: caliperOf(brake, has),
    parking: brake === 'air' ? 'spring brake' : parkingOf(has),
    sensor: sensorOf(has),
  };
}

function caliperOf(brake: 'hydraulic' | 'air', has: (pattern: RegExp) => boolean): BrakeBuild['caliper'] {
  if (brake === 'air') return 'air';
  if (has(/\bfixed\b|\bopposed\b/i)) return 'fixed';
  if (has(/\bpivot/i)) return 'sliding, pivots up';
  if (has(/\blift/i)) return 'sliding, lifts off';
  if (has(/\bspring\b|hex[- ]key/i)) return 'sliding, outer spring';
  return has(/\bsliding\b|\bfloating\b/i) ? 'sliding' : 'unknown';
}

function parkingOf(has: (pattern: RegExp) => boolean): BrakeBuild['parking'] {
  if (has(/drum[- ]in[- ]hat/i)) return 'drum in hat';
  if (has(/screw[- ]in/i)) return 'screw-in piston';
  return has(/\belectronic\b/i) ? 'electronic' : 'none';
}

function sensorOf(has: (pattern: RegExp) => boolean): BrakeBuild['sensor'] {
  if (!has(/\bsensor/i) || has(/\bno (wear )?sensor/i)) return 'none';
  if (has(/sensors? (on the )?left|left sensor/i)) return 'left';
  return has(/sensors? (on the )?right|right sensor/i) ? 'right' : 'both';
}

const PARKING_WORDS: Record<BrakeBuild['parking'], string> = {
  none: '',
  'drum in hat': 'drum-in-hat parking brake',
  'screw-in piston': 'screw-in piston',
  electronic: 'electronic parking brake',
  'spring brake': '',
};
const SENSOR_WORDS: Record<BrakeBuild['sensor'], string> = {
  none: '',
  left: 'wear sensor left',
  right: 'wear sensor right',
  both: 'wear sensors',
};

/** The words from which {@link buildOf} reads the same build again. */
export function buildInWords({ caliper, parking, sensor }: BrakeBuild): string {
  const kind = caliper === 'air' ? 'air disc' : caliper === 'unknown' ? 'hydraulic' : `hydraulic ${caliper}`;
  return [kind, PARKING_WORDS[parking], SENSOR_WORDS[sensor]].filter(Boolean).join(', ');
}
