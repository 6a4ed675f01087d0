/** One question to a worker that ends with its answer: long work beside the page. */

export type Answer<Found> = { readonly found: Found } | { readonly error: string };

/** @throws Error with the worker's words when it fails or does not start. */
export function askWorker<Found>(make: () => Worker, question: unknown): Promise<Found> {
  const worker = make();
  return new Promise<Found>((resolve, reject) => {
    worker.onmessage = ({ data }: MessageEvent<Answer<Found>>) => ("found" in data ? resolve(data.found) : reject(new Error(data.error)));
    worker.onerror = (event) => reject(new Error(event.message || "The worker did not start."));
    worker.postMessage(question);
  }).finally(() => worker.terminate());
}

/** The other side: answers each question with what `work` finds, or with what went wrong. */
export function answerWith<Question, Found>(work: (question: Question) => Found): void {
  self.onmessage = ({ data }: MessageEvent<Question>) => {
    let answer: Answer<Found>;
    try {
      answer = { found: work(data) };
    } catch (error) {
      answer = { error: error instanceof Error ? error.message : String(error) };
    }
    self.postMessage(answer);
  };
}
