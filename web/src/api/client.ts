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

/** Calls the API; throws `ApiProblem` for a refusal, an Error in words where the server can't be reached. */
export async function call<T>(method: 'GET' | 'POST' | 'PUT' | 'DELETE', path: string, body?: unknown): Promise<T> {
  let response: Response;
  try {
    response = await fetch(path, {
      method,
      credentials: 'same-origin',
      ...(body === undefined ? {} : { headers: { 'Content-Type': 'application/json' }, body: JSON.stringify(body) }),
    });
  } catch {
    tell(false);
    throw new Error('Mile Mark can’t be reached; nothing was saved. Try again when the network is back.');
  }
  tell(true);
  if (response.status === 204) return undefined as T;
  const answer: unknown = await response.json().catch(() => undefined);
  if (!response.ok) {
    throw new ApiProblem(
      (answer as Problem | undefined) ?? {
        type: 'about:blank',
        title: 'The server failed; nothing was saved',
        status: response.status,
      },
    );
  }
  return answer as T;
}
