/** A body already serialised, with its tag: sent as it is, or as 304 where the caller has it. */
export interface Prepared {
  prepared: string;
  /** The same, gzip. */
  compressed: Buffer;
  tag: string;
}
