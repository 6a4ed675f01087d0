/** Placebos of each rule: with one hundred trials in all, a share of 5 in 100 can be told. */
export const PLACEBOS = 99;
