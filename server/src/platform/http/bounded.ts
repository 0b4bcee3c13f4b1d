import type { RequestHandler } from 'express';
import { sendProblem } from './problem.ts';

/**
 * Lets so many requests be under way at a time; who comes then is told to come again at once, instead of waiting in a
 * queue that grows. Whether the server lives is always told.
 */
export function bounded(most: number): RequestHandler {
  let underWay = 0;
  return (request, response, next) => {
    if (underWay >= most && !request.path.startsWith('/health')) {
      response.setHeader('Retry-After', '1');
      sendProblem(response, 'busy');
      return;
    }
    underWay += 1;
    response.once('close', () => (underWay -= 1));
    next();
  };
}
