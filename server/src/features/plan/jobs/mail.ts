import { z } from 'zod';
import type { EntityManager } from '../../../platform/db/orm.ts';
import { rowsOf } from '../../../platform/db/rows.ts';

const MailSql = z.object({
  id: z.string(),
  to: z.string().nullable(),
  name: z.string(),
  subject: z.string(),
  body: z.string(),
});

/** As many are sent at a time; a service that answers slower than this did not answer, ms. */
const [MOST, TIMEOUT_MS] = [50, 10_000];

/**
 * Sends what waits, each under its own id: the service takes the same id once, so that a mail may be tried until it is
 * answered. Whoever has no address is left out and that is written down.
 *
 * @throws Error where the service did not take one of them; the rest was sent
 */
export async function sendMails(em: EntityManager, url: string): Promise<void> {
  const waiting = await rowsOf(
    em,
    MailSql,
    `select m.id, p.email as to, p.name, m.subject, m.body from mail m join person p on p.id = m.person_id
     where m.sent_at is null and m.failure is distinct from 'no address' order by m.serial limit ?`,
    [MOST],
  );
  const failed: string[] = [];
  for (const { id, to, name, subject, body } of waiting) {
    const failure = to === null ? 'no address' : await sendOne(url, { id, to, name, subject, text: body });
    if (failure === undefined) await em.execute('update mail set sent_at = now(), failure = null where id = ?', [id]);
    else await em.execute('update mail set failure = ? where id = ?', [failure, id]);
    if (failure !== undefined && to !== null) failed.push(failure);
  }
  if (failed.length > 0) throw new Error(`${failed.length} of ${waiting.length} mails were not taken: ${failed[0]}`);
}

async function sendOne(url: string, mail: object): Promise<string | undefined> {
  try {
    const response = await fetch(new URL('/messages', url), {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify(mail),
      signal: AbortSignal.timeout(TIMEOUT_MS),
    });
    return response.ok ? undefined : `the mail service answered ${response.status}`;
  } catch (error) {
    return (error instanceof Error ? error.message : String(error)).slice(0, 300);
  }
}
