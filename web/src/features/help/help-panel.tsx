/** Help on every page: the keys that work here, and the documentation, with a search over all of it. */
import { useMemo, useState } from "react";
import Markdown from "react-markdown";
import remarkGfm from "remark-gfm";
import { useAllCommands } from "../../lib/commands.ts";
import { cx } from "../../ui/cx.ts";
import { TextInput } from "../../ui/field.tsx";
import { Modal } from "../../ui/modal.tsx";
import { PAGES } from "./pages.ts";
import { findIn } from "./search.ts";

const KEYS = "keys";
export type HelpPage = typeof KEYS | (typeof PAGES)[number][0];

export function HelpPanel({ first, onClose }: { readonly first: HelpPage; readonly onClose: () => void }) {
  const [page, setPage] = useState<HelpPage>(first);
  const [search, setSearch] = useState("");
  const found = useMemo(() => findIn(PAGES, search), [search]);
  const text = PAGES.find(([id]) => id === page)?.[2];
  const show = (next: HelpPage): void => {
    setPage(next);
    setSearch("");
  };
  return (
    <Modal title="Help" size="full" onClose={onClose}>
      <div className="flex h-[70vh] gap-4">
        <nav aria-label="Pages of the help" className="flex w-44 shrink-0 flex-col gap-1">
          <TextInput aria-label="Search the help" placeholder="Search" value={search} onChange={({ target }) => setSearch(target.value)} />
          {[[KEYS, "Keys"] as const, ...PAGES].map(([id, name]) => (
            <button
              key={id}
              type="button"
              aria-current={id === page && !search ? "page" : undefined}
              className={cx("rounded px-2 py-1 text-left hover:bg-sunk", id === page && !search && "bg-accent-wash font-semibold")}
              onClick={() => show(id)}
            >
              {name}
            </button>
          ))}
        </nav>
        <div className="min-w-0 flex-1 overflow-auto" key={search ? "search" : page}>
          {search ? (
            <ul aria-label="Found in the help">
              {found.length === 0 ? <li className="text-soft">No page says that.</li> : null}
              {found.map(({ id, name, section, line }) => (
                <li key={`${id} ${section} ${line}`}>
                  <button type="button" className="w-full rounded px-2 py-1 text-left hover:bg-sunk" onClick={() => show(id as HelpPage)}>
                    <span className="font-semibold">
                      {name}
                      {section ? ` · ${section}` : ""}
                    </span>
                    <span className="block truncate text-[13px] text-soft">{line}</span>
                  </button>
                </li>
              ))}
            </ul>
          ) : text === undefined ? (
            <Keys />
          ) : (
            <div className="help-text">
              <Markdown remarkPlugins={[remarkGfm]}>{text}</Markdown>
            </div>
          )}
        </div>
      </div>
    </Modal>
  );
}

/** Every command that has a key on the page one is on. */
function Keys() {
  const commands = useAllCommands().filter(({ keys }) => keys !== undefined);
  return (
    <table className="w-full max-w-2xl text-[13px]" aria-label="Keys that work here">
      <tbody>
        {commands.map(({ id, label, keys }) => (
          <tr key={id}>
            <th scope="row" className="w-40 border-rule/60 border-b py-1 text-left font-mono font-normal">
              {keys!.replace("+k", "+K")}
            </th>
            <td className="border-rule/60 border-b py-1">{label}</td>
          </tr>
        ))}
        <tr>
          <th scope="row" className="border-rule/60 border-b py-1 text-left font-mono font-normal">
            Ctrl+M
          </th>
          <td className="border-rule/60 border-b py-1">In the editor: let Tab leave it, or write a tab again</td>
        </tr>
      </tbody>
    </table>
  );
}
