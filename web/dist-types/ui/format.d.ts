/** `14 Sep 2027`. */
export declare function formatDate(date: string): string;
/** Miles as the person reads distances, with the unit. */
export declare function formatMiles(miles: number, unit: 'mi' | 'km'): string;
export declare function formatWhole(value: number): string;
/** A chance as per cent; small ones as a bound, never as nought. */
export declare function formatChance(probability: number): string;
/** Days between two ISO dates. */
export declare function daysBetween(from: string, to: string): number;
/** `in 12 days`, `today`, `12 days ago`, in weeks or months where that reads better. */
export declare function formatAway(days: number): string;
