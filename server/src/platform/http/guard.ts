import type { RequestHandler } from 'express';
import { ApiError } from '../errors.ts';

const SAFE = new Set(['GET', 'HEAD', 'OPTIONS']);

/**
 * Defence against cross-site request forgery, beside the cookie's SameSite=Strict: a request that writes and
 * comes from a browser must come from our own origin, and must be JSON (which no plain form can send).
 */
export const sameOriginOnly: RequestHandler = (request, _response, next) => {
  if (SAFE.has(request.method)) {
    next();
    return;
  }
  const site = request.headers['sec-fetch-site'];
  const origin = request.headers.origin;
  if (site !== undefined && site !== 'same-origin' && site !== 'none') throw new ApiError('cross_site');
  if (origin !== undefined && hostOf(origin) !== request.headers.host) throw new ApiError('cross_site');
  const hasBody =
    Number(request.headers['content-length'] ?? 0) > 0 || request.headers['transfer-encoding'] !== undefined;
  // An archive is the one file that comes as it is; no plain form can send that either.
  const wanted = request.path === '/archive' ? ['application/json', 'application/zip'] : ['application/json'];
  if (hasBody && !request.is(wanted)) throw new ApiError('wrong_content_type');
  next();
};

function hostOf(origin: string): string | undefined {
  try {
    return new URL(origin).host;
  } catch {
    return undefined;
  }
}
