import { describe, expect, it } from '@jest/globals';
import { draftOf, dutyOfDraft } from './figures.ts';

const id = '3f0c1f3e-0000-4000-8000-000000000001';

describe('a duty as it is typed', () => {
  it('goes there and back without a change', () => {
    const draft = { ...draftOf(undefined, 'Mill round'), stopsPerMile: '2,25', payload: '40', retarder: '10' };
    const result = dutyOfDraft(draft, { id, source: 'stated' });
    expect(result).toMatchObject({ ok: true, duty: { stopsPerMile: 2.25, payloadShare: 0.4, retarderShare: 0.1 } });
    if (result.ok)
      expect(draftOf({ ...result.duty, sourceNote: null }, 'Mill round')).toEqual({ ...draft, stopsPerMile: '2.25' });
  });

  it('stands in kilometres for who reads them, and goes back as it came', () => {
    const miles = dutyOfDraft(draftOf(undefined, 'Mill round'), { id, source: 'stated' });
    if (!miles.ok) throw new Error('the usual duty is refused');
    const shown = draftOf({ ...miles.duty, sourceNote: null }, 'Mill round', 'km');
    // 30 mph is 48.28 km/h, one stop a mile 0.621 a km, 60 miles 96.56 km (1 mile is 1.609344 km).
    expect([shown.mphBeforeStop, shown.stopsPerMile, shown.milesPerDay]).toEqual(['48.28', '0.6214', '96.56']);
    expect([shown.payload, shown.towedKg]).toEqual(['50', '0']);
    const back = dutyOfDraft(shown, { id, source: 'stated' }, 'km');
    if (!back.ok) throw new Error('what was shown is refused');
    for (const [name, value] of Object.entries(miles.duty))
      if (typeof value === 'number')
        expect(Math.abs(back.duty[name as 'stopsPerMile'] - value)).toBeLessThanOrEqual(0.001 * value);
  });

  it('names every field that is no figure, and a name that lacks', () => {
    const draft = {
      ...draftOf(undefined, ' '),
      stopsPerMile: 'x',
      towedKg: '-5',
      slowdownFromMph: '20',
      slowdownToMph: '30',
    };
    const result = dutyOfDraft(draft, { id, source: 'stated' });
    expect(result.ok).toBe(false);
    if (!result.ok)
      expect(Object.keys(result.fields).sort()).toEqual(['name', 'slowdownToMph', 'stopsPerMile', 'towedKg']);
  });
});
