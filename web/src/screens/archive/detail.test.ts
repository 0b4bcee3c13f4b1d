import { describe, expect, it } from '@jest/globals';
import { saidIn } from './detail.ts';

describe('what a deed says', () => {
  it('tells what was and became in one line, field by field', () => {
    const detail = { was: { name: 'Mill yrad', zone: 'UTC' }, now: { name: 'Mill yard', zone: 'UTC' }, reason: 'typo' };
    expect(saidIn(detail)).toEqual([
      { name: 'name', text: 'Mill yrad → Mill yard' },
      { name: 'zone', text: 'UTC → UTC' },
      { name: 'reason', text: 'typo' },
    ]);
  });

  it('has a field that only came or only went on one side', () => {
    expect(saidIn({ was: { email: null }, becomes: { email: 'a@b.example', role: 'viewer' } })).toEqual([
      { name: 'email', text: 'none → a@b.example' },
      { name: 'role', text: 'none → viewer' },
    ]);
  });

  it('leaves out ids and empty lists, and says the rest in words', () => {
    const detail = {
      id: '3f1c2a5e-0000-4000-8000-000000000000',
      gone: [],
      backOn: '2026-12-08',
      axles: [{ axle: 1, was: { padNewMm: 11 } }],
      begun: false,
    };
    expect(saidIn(detail)).toEqual([
      { name: 'back on', text: '8 Dec 2026' },
      { name: 'axles', text: 'axle 1, was pad new mm 11' },
      { name: 'begun', text: 'no' },
    ]);
    expect(saidIn(null)).toEqual([]);
  });
});
