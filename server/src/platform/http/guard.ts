import type { RequestHandler } from 'express';
import { ApiError } from '../errors.ts';

/** Files that come as they are, by where they are sent; no plain form can send these types either. */
const AS_IT_IS: Record<string, string[]> = {
  '/archive': ['application/zip'],
  '/imports/drafts': ['application/octet-stream'],
};

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
  if (hasBody && !request.is(['application/json', ...(AS_IT_IS[request.path] ?? [])]))
    throw new ApiError('wrong_content_type');
  next();
};

function hostOf(origin: string): string | undefined {
  try {
    return new URL(origin).host;
  } catch {
    return undefined;
  }
}
