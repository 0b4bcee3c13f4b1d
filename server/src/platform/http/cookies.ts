import type { Request } from 'express';

/** The value of a cookie; undefined where it was not sent, or is empty. */
export function cookieOf(request: Pick<Request, 'headers'>, name: string): string | undefined {
  for (const part of (request.headers.cookie ?? '').split(';')) {
    const [own, value] = part.trim().split('=');
    if (own === name && value) return value;
  }
  return undefined;
}
