import { afterEach, describe, expect, it } from '@jest/globals';
import { mailStandIn } from './mail.ts';

const closing: (() => Promise<void>)[] = [];
afterEach(async () => {
  for (const close of closing.splice(0)) await close();
});
const MAIL = { id: 'a', to: 'ash@example.org', name: 'Ash', subject: 'The plan', text: 'P12 moved' };

async function service(failing = 0) {
  const mail = await mailStandIn({ seed: 3, failing });
  closing.push(mail.close);
  const send = (one: object = MAIL) => fetch(`${mail.url}/messages`, { method: 'POST', body: JSON.stringify(one) });
  return { mail, send };
}

describe('the simulated mail service', () => {
  it('takes each mail once, however often it comes', async () => {
    const { mail, send } = await service();
    expect([(await send()).status, (await send()).status]).toEqual([202, 202]);
    expect(mail.taken()).toEqual([MAIL]);
    expect(await (await fetch(`${mail.url}/messages`)).json()).toEqual({ messages: [MAIL] });
  });

  it('has what it did not answer for', async () => {
    const { mail, send } = await service(1);
    expect((await send()).status).toBe(503);
    expect(mail.taken()).toHaveLength(1);
  });

  it('refuses what has no address', async () => {
    const { mail, send } = await service();
    expect((await send({ ...MAIL, to: 'nobody' })).status).toBe(422);
    expect(mail.taken()).toEqual([]);
  });
});
