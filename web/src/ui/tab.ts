/** The look of one tab in a row of tabs. */
export const tabClass =
  "rounded px-2 py-1 whitespace-nowrap focus-visible:-outline-offset-2 text-soft hover:text-ink data-[state=active]:bg-sunk data-[state=active]:font-semibold data-[state=active]:text-ink";
