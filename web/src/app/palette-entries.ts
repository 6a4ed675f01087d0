/** What the palette finds besides commands: everything of the workspace that has a page. */
import { STUDIES, spokenStudy, timeframeLabel } from "@plan-tester/core";
import { useQuery } from "@tanstack/react-query";
import { queries } from "../data/queries.ts";

export interface PaletteEntry {
  readonly path: string;
  readonly name: string;
  readonly about: string;
}

export interface PaletteGroup {
  readonly heading: string;
  readonly entries: readonly PaletteEntry[];
}

const STUDY_ENTRIES: readonly PaletteEntry[] = STUDIES.map(({ name, group }) => ({
  path: `/studies/${name}`,
  name: spokenStudy(name),
  about: group,
}));

/** @param isOpen nothing is asked for before. */
export function useFound(isOpen: boolean): PaletteGroup[] {
  const when = { enabled: isOpen };
  const plans = useQuery({ ...queries.plans(), ...when });
  const markets = useQuery({ ...queries.markets(), ...when });
  const runs = useQuery({ ...queries.batch("", 0), ...when });
  const sweeps = useQuery({ ...queries.sweeps(), ...when });
  const walks = useQuery({ ...queries.walkForwards(), ...when });
  const blends = useQuery({ ...queries.blends(), ...when });
  const watches = useQuery({ ...queries.watches(), ...when });
  const on = ({ symbol, timeframe }: { readonly symbol: string; readonly timeframe: string }): string =>
    `${symbol} ${timeframeLabel(timeframe)}`;
  const groups: PaletteGroup[] = [
    {
      heading: "Plans",
      entries: (plans.data ?? []).map(({ id, title, symbol }) => ({ path: `/plans/${id}`, name: title, about: symbol })),
    },
    {
      heading: "Markets",
      entries: (markets.data ?? []).map(({ instrument: { symbol, name } }) => ({
        path: `/markets/${encodeURIComponent(symbol)}`,
        name: symbol,
        about: name,
      })),
    },
    {
      heading: "Runs",
      entries: (runs.data?.runs ?? []).map((run) => ({ path: `/runs/${run.id}`, name: run.name, about: on(run.settings) })),
    },
    {
      heading: "Sweeps",
      entries: (sweeps.data ?? []).map(({ id, planTitle, request }) => ({
        path: `/sweeps/${id}`,
        name: planTitle,
        about: on(request.settings),
      })),
    },
    {
      heading: "Walk-forwards",
      entries: (walks.data ?? []).map(({ id, planTitle, request }) => ({
        path: `/walk-forwards/${id}`,
        name: planTitle,
        about: on(request.settings),
      })),
    },
    {
      heading: "Blends",
      entries: (blends.data ?? []).map(({ id, name, setup: { members } }) => ({
        path: `/blends/${id}`,
        name,
        about: `${members.length} members`,
      })),
    },
    {
      heading: "Watches",
      entries: (watches.data ?? []).map(({ id, planTitle, settings }) => ({
        path: `/watches/${id}`,
        name: planTitle,
        about: on(settings),
      })),
    },
  ];
  groups.push({
    heading: "Places",
    entries: [
      { path: "/sources", name: "Sources", about: "where new bars come from by themselves" },
      { path: "/storage", name: "Storage", about: "what takes space, and what was deleted" },
      { path: "/studies", name: "Studies", about: "all there are, each on a chart" },
    ],
  });
  groups.push({ heading: "Studies", entries: STUDY_ENTRIES });
  return groups.filter(({ entries }) => entries.length > 0);
}
