import type { Problem } from '@mile-mark/contract';
/** A refusal of the server: problem details, with the fields that are wrong. */
export declare class ApiProblem extends Error {
    readonly status: number;
    readonly problem: Problem;
    constructor(problem: Problem);
    /** The message for a field, where the refusal names it. */
    of(field: string): string | undefined;
}
/** Calls the API; throws `ApiProblem` for a refusal, an Error in words where the server can't be reached. */
export declare function call<T>(method: 'GET' | 'POST' | 'PUT' | 'DELETE', path: string, body?: unknown): Promise<T>;
