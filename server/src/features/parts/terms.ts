/** What the shop's orders rest on, until it says otherwise (common practice, no source). */
export const TERMS = {
  /** Share of order cycles that end without a shortage. */
  service: 0.95,
  /** What a year on the shelf costs, as a share of the price. */
  holdingShare: 0.25,
  /** Weeks ahead that demand is computed for. */
  weeks: 26,
};
