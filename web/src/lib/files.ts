/** A name that any file system takes, e.g. "Kelp fade trades.csv". */
export const fileName = (title: string, ending: string): string => `${title.replace(/[^\w -]+/g, "").trim() || "run"}${ending}`;

/** Hands a text to the browser as a file. */
export function saveFile(name: string, text: string, type = "text/csv"): void {
  const link = document.createElement("a");
  link.href = URL.createObjectURL(new Blob([text], { type: `${type};charset=utf-8` }));
  link.download = name;
  link.click();
  URL.revokeObjectURL(link.href);
}
