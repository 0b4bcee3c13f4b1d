import { describe, expect, it } from '@jest/globals';
import { readConfig } from './config.ts';

const base = { DATABASE_URL: 'postgresql://u:p@127.0.0.1:5432/x' };

describe('configuration', () => {
  it('has defaults: loopback, port 4600, today by the clock, no demo', () => {
    expect(readConfig(base)).toMatchObject({
      host: '127.0.0.1',
      port: 4600,
      today: undefined,
      demo: false,
      vehicles: 60,
      tls: undefined,
    });
  });

  it('takes what is set', () => {
    expect(
      readConfig({ ...base, PORT: '0', TODAY: '2026-11-20', MILEMARK_DEMO: '1', TLS_CERT: 'c', TLS_KEY: 'k' }),
    ).toMatchObject({
      port: 0,
      today: '2026-11-20',
      demo: true,
      tls: { certFile: 'c', keyFile: 'k' },
    });
  });

  it.each([
    [{ DATABASE_URL: 'mysql://x' }, /DATABASE_URL/],
    [{ ...base, PORT: 'eighty' }, /PORT/],
    [{ ...base, TODAY: 'tomorrow' }, /TODAY/],
    [{ ...base, TRUST_PROXY: 'yes' }, /TRUST_PROXY/],
    [{ ...base, MILEMARK_ROLE: 'cook' }, /MILEMARK_ROLE/],
    [{ ...base, TLS_CERT: 'c' }, /TLS_CERT and TLS_KEY go together/],
  ])('names the variable that is wrong in %j', (environment, message) => {
    expect(() => readConfig(environment)).toThrow(message);
  });
});
