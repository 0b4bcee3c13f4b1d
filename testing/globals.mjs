/** What the runner puts into the process, by the names under which tests import it. */
export const { afterAll, afterEach, beforeAll, beforeEach, describe, expect, it, jest, test } = globalThis;
