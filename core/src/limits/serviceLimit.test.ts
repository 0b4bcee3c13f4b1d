import { describe, expect, it } from '@jest/globals';
import { COMMERCIAL_GVWR_KG, ruleApplies, serviceLimit, SHIPPED_LIMITS, type LimitRule } from './index.ts';

const heavy = { brake: 'air' as const, gvwrKg: 26_000, padNewMm: 21, padMakerMinMm: 2 };
const light = { brake: 'hydraulic' as const, gvwrKg: 3400, padNewMm: 11, padMakerMinMm: 2 };

describe('limits of law', () => {
  // 49 CFR 393.47(d), from memory: air disc lining not less than 3.2 mm (1/8 in): equality passes;
  // hydraulic disc lining of 1.6 mm (1/16 in) or less fails: equality fails.
  const law = (brake: 'air' | 'hydraulic') =>
    SHIPPED_LIMITS.find((rule) => rule.authority === 'law' && rule.brake === brake) as LimitRule;

  it('state the least thickness, and which side of it exactly that is on', () => {
    expect(law('air')).toMatchObject({ leastMm: 3.2, equalityPasses: true });
    expect(law('hydraulic')).toMatchObject({ leastMm: 1.6, equalityPasses: false });
  });

  it('rule by the stricter where two figures are the same', () => {
    const same = { ...light, padMakerMinMm: 1.6 };
    expect(serviceLimit(same, SHIPPED_LIMITS, 0).ruling).toMatchObject({ kind: 'policy', equalityPasses: false });
  });

  // 49 CFR 390.5, from memory: commercial motor vehicles generally begin over 10,000 lb (4,536 kg).
  it('bind over 10,000 lb, and are the shop’s policy below', () => {
    expect(COMMERCIAL_GVWR_KG).toBeCloseTo(4535.92, 2);
    expect(ruleApplies(law('hydraulic'), { brake: 'hydraulic', gvwrKg: COMMERCIAL_GVWR_KG })).toBe(false);
    expect(ruleApplies(law('hydraulic'), { brake: 'hydraulic', gvwrKg: COMMERCIAL_GVWR_KG + 1 })).toBe(true);
    const policy = SHIPPED_LIMITS.find(
      (rule) => rule.authority === 'policy' && rule.brake === 'hydraulic',
    ) as LimitRule;
    expect(ruleApplies(policy, { brake: 'hydraulic', gvwrKg: COMMERCIAL_GVWR_KG })).toBe(true);
    expect(ruleApplies(policy, { brake: 'hydraulic', gvwrKg: COMMERCIAL_GVWR_KG + 1 })).toBe(false);
    expect(serviceLimit(light, SHIPPED_LIMITS).legal).toBeUndefined();
    expect(serviceLimit(heavy, SHIPPED_LIMITS).legal?.leastMm).toBe(3.2);
  });

  it('name source and revision, and say that nobody checked them yet', () => {
    for (const rule of SHIPPED_LIMITS) {
      expect(rule.source).toContain('49 CFR 393.47(d)');
      expect(rule.checkedBy).toBe('nobody yet');
    }
  });
});

describe('service limit', () => {
  it('is the shop’s quarter of new where that is the largest', () => {
    expect(serviceLimit(light, SHIPPED_LIMITS)).toMatchObject({ limitMm: 2.75, ruling: { kind: 'margin' } });
    expect(serviceLimit(heavy, SHIPPED_LIMITS)).toMatchObject({ limitMm: 5.25, ruling: { kind: 'margin' } });
  });

  it('is the maker’s, or the law’s, where the shop keeps less', () => {
    expect(serviceLimit(light, SHIPPED_LIMITS, 0.1)).toMatchObject({ limitMm: 2, ruling: { kind: 'maker' } });
    expect(serviceLimit(heavy, SHIPPED_LIMITS, 0.1)).toMatchObject({ limitMm: 3.2, ruling: { kind: 'law' } });
  });

  it('lets a stricter rule of the coordinator’s own rule', () => {
    const own: LimitRule = {
      ...(SHIPPED_LIMITS[0] as LimitRule),
      id: 'own',
      jurisdiction: 'Northfold county',
      leastMm: 6,
      source: 'inspection order 12',
    };
    expect(serviceLimit(heavy, [...SHIPPED_LIMITS, own]).ruling.source).toBe('Northfold county: inspection order 12');
  });

  it('lets the stricter of two equal limits rule', () => {
    const equal = { ...light, padMakerMinMm: 1.6, padNewMm: 4 };
    expect(serviceLimit(equal, SHIPPED_LIMITS, 0.1).ruling.equalityPasses).toBe(false);
  });

  it('tells every figure it looked at, greatest first', () => {
    const { candidates } = serviceLimit(heavy, SHIPPED_LIMITS);
    expect(candidates.map(({ leastMm }) => leastMm)).toEqual([5.25, 3.2, 2]);
  });
});
