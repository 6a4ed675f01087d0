/** Whole numbers with thousands separators; no locale data, so that it reads the same in every process. */
export const amount = (value: number): string =>
  String(Math.round(value))
    .replace(/\B(?=(\d{3})+(?!\d))/g, ",")
    .replace("-", "−");
