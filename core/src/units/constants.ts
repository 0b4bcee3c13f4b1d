/**
 * Exact conversion factors. Source: NIST SP 811 (2008), Appendix B.8, "Factors for units listed
 * alphabetically"; inch, mile and pound are exact by definition, g is the standard acceleration.
 */

/** Metres in one international mile: 1,760 yd × 0.9144 m. */
export const METRES_PER_MILE = 1609.344;
/** Millimetres in one inch. */
export const MM_PER_INCH = 25.4;
/** Millimetres in 1/32 inch: 25.4 / 32. */
export const MM_PER_32ND = MM_PER_INCH / 32;
/** Kilograms in one avoirdupois pound. */
export const KG_PER_POUND = 0.45359237;
/** Standard acceleration of gravity, m/s². */
export const STANDARD_GRAVITY = 9.80665;
/** Newton metres in one pound-force foot: 0.45359237 kg × 9.80665 m/s² × 0.3048 m. */
export const NM_PER_LBF_FT = KG_PER_POUND * STANDARD_GRAVITY * 0.3048;
/** Metres per second in one mile per hour: 1609.344 / 3600. */
export const MPS_PER_MPH = METRES_PER_MILE / 3600;
