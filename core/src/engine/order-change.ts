/** A change of a working order. */

/** What is left out stays as it is. */
export interface OrderChange {
  readonly price?: number;
  readonly quantity?: number;
  readonly limitPrice?: number;
}
