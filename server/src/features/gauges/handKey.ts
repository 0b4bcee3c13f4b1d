/** Key of a hand: a technician with a gauge. */
export function handKey(technicianId: string, gaugeId: string): string {
  return `${technicianId}/${gaugeId}`;
}

/** The technician and the gauge of a hand's key. */
export function partsOfHand(key: string): { technicianId: string; gaugeId: string } {
  const [technicianId = '', gaugeId = ''] = key.split('/');
  return { technicianId, gaugeId };
}
