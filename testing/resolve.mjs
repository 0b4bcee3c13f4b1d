const GLOBALS = new URL('./globals.mjs', import.meta.url).href;

/** Packages of this repository resolve to their sources, and what tests import of the runner to what it gave the process. */
export async function resolve(specifier, context, next) {
  if (specifier === '@jest/globals') return { url: GLOBALS, shortCircuit: true };
  return next(specifier, { ...context, conditions: [...context.conditions, 'source'] });
}
