/** How many orders wait for a word, on every page: beside the link to the watches, in the tab's title, and as a desktop notice. */
import { useQuery } from "@tanstack/react-query";
import { useEffect, useRef } from "react";
import { queries } from "../../data/queries.ts";
import { hasSound, playSound, showNotice } from "../../lib/notices.ts";

export function PromptBadge() {
  const { data } = useQuery(queries.watches());
  const count = data?.reduce((sum, { prompts }) => sum + prompts.length, 0) ?? 0;
  const before = useRef(0);
  useEffect(() => {
    const title = document.title.replace(/^\(\d+\) /, "");
    document.title = count > 0 ? `(${count}) ${title}` : title;
    if (count > before.current) {
      showNotice("A plan waits for you", `${count} order${count === 1 ? "" : "s"} to accept or decline`);
      if (hasSound()) playSound();
    }
    before.current = count;
  }, [count]);
  if (count === 0) return null;
  return (
    <strong className="ml-1 rounded-full bg-warn px-1.5 text-[12px] text-sheet" title="Orders that wait for you">
      <span className="sr-only">, waiting for you: </span>
      {count}
    </strong>
  );
}
