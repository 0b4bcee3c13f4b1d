import type loadTyped from 'highs';

/** The solver as it is loaded. */
export type Highs = Awaited<ReturnType<typeof loadTyped.default>>;
export type Model = ReturnType<Highs['createModel']>;

/** The solver's numbers of its simplex methods. */
export const [DUAL, PRIMAL] = [1, 4];

/** The solver's own search for plans costs more than it brings: the plan that is known comes from a better one. */
export const WITHOUT_SEARCH = {
  mip_heuristic_effort: 0,
  mip_heuristic_run_rins: false,
  mip_heuristic_run_rens: false,
  mip_heuristic_run_root_reduced_cost: false,
};
