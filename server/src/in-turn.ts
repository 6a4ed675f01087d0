/** Work that must not come between other work of its kind: one after another, whether or not those before failed. */
export class InTurn {
  #last: Promise<unknown> = Promise.resolve();

  run<T>(work: () => Promise<T>): Promise<T> {
    const done = this.#last.then(work, work);
    this.#last = done.catch(() => undefined);
    return done;
  }
}
