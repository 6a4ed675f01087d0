/** A name that any file system takes, e.g. "Kelp fade trades.csv". */
export const fileName = (title: string, ending: string): string => `${title.replace(/[^\w -]+/g, "").trim() || "run"}${ending}`;

/** Hands a text to the browser as a file. */
export const saveFile = (name: string, text: string, type = "text/csv"): void =>
  saveBlob(name, new Blob([text], { type: `${type};charset=utf-8` }));

export function saveBlob(name: string, blob: Blob): void {
  const link = document.createElement("a");
  link.href = URL.createObjectURL(blob);
  link.download = name;
  link.click();
  URL.revokeObjectURL(link.href);
}
