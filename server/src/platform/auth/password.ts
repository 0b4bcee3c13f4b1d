import { hash, verify } from '@node-rs/argon2';

/** argon2id with the parameters OWASP's password storage sheet gives as a minimum (19 MiB, 2 passes; from memory). */
const OPTIONS = { memoryCost: 19_456, timeCost: 2, parallelism: 1 };

export function hashPassword(password: string): Promise<string> {
  return hash(password, OPTIONS);
}

let decoy: Promise<string> | undefined;

/** Whether a password fits; takes as long where there is no such person, so that addresses can't be probed by time. */
export async function passwordFits(password: string, passwordHash: string | null | undefined): Promise<boolean> {
  decoy ??= hashPassword('no such person');
  const fits = await verify(passwordHash ?? (await decoy), password);
  return fits && passwordHash != null;
}
