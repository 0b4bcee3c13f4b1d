/** How an axle's brake is built, as far as it is on record; `unknown` is said on the card and never guessed. */
export interface BrakeBuild {
  caliper:
    'sliding' | 'sliding, pivots up' | 'sliding, lifts off' | 'sliding, outer spring' | 'fixed' | 'air' | 'unknown';
  parking: 'drum in hat' | 'screw-in piston' | 'electronic' | 'spring brake' | 'none';
  /** Wheel that carries the wear sensor. */
  sensor: 'none' | 'left' | 'right' | 'both';
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
