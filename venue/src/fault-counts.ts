/** Faults that are to befall the next so many: each that happens counts down. */
export class FaultCounts<Faults extends Readonly<Record<string, number>>> {
  left: Faults;

  constructor(none: Faults) {
    this.left = none;
  }

  /** Whether this one is to be befallen; then there is one less. */
  takes(name: keyof Faults): boolean {
    const many = this.left[name]!;
    if (many > 0) this.left = { ...this.left, [name]: many - 1 };
    return many > 0;
  }
}
