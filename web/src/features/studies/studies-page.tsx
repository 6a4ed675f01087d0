/** The library of studies: all there are, searched, one of them looked at. */
import { STUDIES, type StudyDefinition, spokenStudy } from "@plan-tester/core";
import { useMemo, useRef, useState } from "react";
import { useNavigate, useParams } from "react-router";
import { useMarkets } from "../../data/markets.ts";
import { useCommands } from "../../lib/commands.ts";
import { count } from "../../lib/format.ts";
import { cx } from "../../ui/cx.ts";
import { TextInput } from "../../ui/field.tsx";
import { Page } from "../../ui/page.tsx";
import { Empty } from "../../ui/states.tsx";
import { isFound } from "./study-lines.ts";
import { StudyView } from "./study-view.tsx";

export function StudiesPage() {
  const { study: name = STUDIES[0]!.name } = useParams();
  const [search, setSearch] = useState("");
  const field = useRef<HTMLInputElement>(null);
  const markets = useMarkets();
  const navigate = useNavigate();
  const found = useMemo(() => STUDIES.filter((study) => isFound(study, search)), [search]);
  const study = STUDIES.find((one) => one.name === name);
  const open = (next: StudyDefinition | undefined): void => {
    if (next) navigate(`/studies/${next.name}`, { replace: true });
  };
  const step = (by: 1 | -1): void => open(found[Math.max(0, Math.min(found.length - 1, found.findIndex((one) => one.name === name) + by))]);
  useCommands([
    { id: "find-study", label: "Find a study", keys: "Ctrl+f", act: () => field.current?.focus() },
    { id: "next-study", label: "Next study of the list", keys: "Alt+ArrowDown", act: () => step(1) },
    { id: "previous-study", label: "Study before it", keys: "Alt+ArrowUp", act: () => step(-1) },
  ]);
  return (
    <Page title="Studies" aside={<span className="text-soft text-[13px]">{count(STUDIES.length, "study", "studies")}</span>}>
      <div className="flex h-full min-h-0">
        <nav aria-label="Studies" className="flex w-60 shrink-0 flex-col border-rule border-r">
          <div className="p-2">
            <TextInput
              ref={field}
              aria-label="Search studies"
              placeholder="Name, formula, author, unit"
              value={search}
              onChange={({ target }) => setSearch(target.value)}
              onKeyDown={({ key }) => {
                if (key === "Enter") open(found[0]);
                if (key === "ArrowDown") step(1);
                if (key === "ArrowUp") step(-1);
              }}
            />
          </div>
          <ul className="min-h-0 flex-1 overflow-auto pb-4 text-[13px]">
            {found.map((one, i) => (
              <li key={one.name}>
                {one.group === found[i - 1]?.group ? null : <h3 className="px-3 pt-2 pb-0.5 text-[12px] text-soft">{one.group}</h3>}
                <button
                  type="button"
                  aria-current={one.name === name ? "page" : undefined}
                  className={cx("block w-full px-3 py-0.5 text-left hover:bg-sunk", one.name === name && "bg-accent-wash font-semibold")}
                  onClick={() => open(one)}
                >
                  {spokenStudy(one.name)}
                </button>
              </li>
            ))}
            {found.length === 0 ? <li className="p-3 text-soft">No study has all of these words.</li> : null}
          </ul>
        </nav>
        <div className="min-w-0 flex-1 overflow-auto">
          {study ? (
            <StudyView key={study.name} study={study} markets={markets} />
          ) : (
            <Empty title={`There is no study ${name}`}>The list has those there are.</Empty>
          )}
        </div>
      </div>
    </Page>
  );
}
