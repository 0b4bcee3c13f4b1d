/** Key of an appraiser: a technician with a gauge. */
export function appraiserKey(technicianId: string, gaugeId: string): string {
  return `${technicianId}/${gaugeId}`;
}

/** The technician and the gauge of an appraiser's key. */
export function partsOfAppraiser(key: string): { technicianId: string; gaugeId: string } {
  const [technicianId = '', gaugeId = ''] = key.split('/');
  return { technicianId, gaugeId };
}
