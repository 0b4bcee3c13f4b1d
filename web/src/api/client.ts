import type { Problem } from '@mile-mark/contract';

/** A refusal of the server: problem details, with the fields that are wrong. */
export class ApiProblem extends Error {
  readonly status: number;
  readonly problem: Problem;
  constructor(problem: Problem) {
    super(problem.detail ?? problem.title);
    this.status = problem.status;
    this.problem = problem;
  }

  /** The message for a field, where the refusal names it. */
  of(field: string): string | undefined {
    return this.problem.errors?.find((error) => error.field === field)?.message;
  }
}

/** Whether a failure is of the way or the server's health, so that what the device has still holds; not a refusal. */
export function isPassing(error: unknown): boolean {
  return !(error instanceof ApiProblem) || error.status >= 500 || error.status === 408 || error.status === 429;
}

let reached = true;
const listeners = new Set<() => void>();

/** Whether the last call reached the server: a device may believe in a network that leads nowhere. */
export const reach = {
  subscribe: (listener: () => void): (() => void) => {
    listeners.add(listener);
    return () => listeners.delete(listener);
  },
  get: (): boolean => reached,
};

function tell(now: boolean): void {
  if (now === reached) return;
  reached = now;
  for (const listener of listeners) listener();
}

/** What is sent: a file as it is, all else as JSON. */
function contentOf(body: unknown): RequestInit {
  if (body === undefined) return {};
  if (body instanceof Blob) return { headers: { 'Content-Type': body.type }, body };
  return { headers: { 'Content-Type': 'application/json' }, body: JSON.stringify(body) };
}

/**
 * Calls the API; throws `ApiProblem` for a refusal, an Error in words where the server can't be reached or its answer
 * breaks off: an answer that came in part is none.
 */
export async function call<T>(method: 'GET' | 'POST' | 'PUT' | 'DELETE', path: string, body?: unknown): Promise<T> {
  let response: Response;
  try {
    response = await fetch(path, {
      method,
      credentials: 'same-origin',
      ...contentOf(body),
    });
  } catch {
    tell(false);
    throw new Error('Mile Mark can’t be reached; nothing was saved. Try again when the network is back.');
  }
  if (!response.ok) {
    tell(true);
    const problem = (await response.json().catch(() => undefined)) as Problem | undefined;
    throw new ApiProblem(
      problem ?? { type: 'about:blank', title: 'The server failed; nothing was saved', status: response.status },
    );
  }
  if (response.status === 204) {
    tell(true);
    return undefined as T;
  }
  try {
    const answer = (await response.json()) as T;
    tell(true);
    return answer;
  } catch {
    tell(false);
    throw new Error('The answer broke off on its way. Try again when the network is back.');
  }
}
