/** Alerts: which events go where, what became of each, and what has come to the practice inbox. */
import { Tabs } from "radix-ui";
import { useSearchParams } from "react-router";
import { Page } from "../../ui/page.tsx";
import { Failure, Loading } from "../../ui/states.tsx";
import { tabClass } from "../../ui/tab.ts";
import { Channels } from "./channels.tsx";
import { Here } from "./here.tsx";
import { Inbox } from "./inbox.tsx";
import { Limits } from "./limits.tsx";
import { Outcomes } from "./outcomes.tsx";
import { Rules } from "./rules.tsx";
import { useSetup } from "./use-setup.ts";

const TABS = [
  ["rules", "Rules and channels"],
  ["outcomes", "Outcomes"],
  ["inbox", "Practice inbox"],
] as const;

export function AlertsPage() {
  const [query, setQuery] = useSearchParams();
  const tab = query.get("tab") ?? "rules";
  return (
    <Page title="Alerts">
      <Tabs.Root value={tab} onValueChange={(next) => setQuery({ tab: next }, { replace: true })} className="flex h-full min-h-0 flex-col">
        <Tabs.List aria-label="Alerts" className="flex gap-1 border-rule border-b px-4 py-1.5">
          {TABS.map(([value, label]) => (
            <Tabs.Trigger key={value} value={value} className={tabClass}>
              {label}
            </Tabs.Trigger>
          ))}
        </Tabs.List>
        <Tabs.Content value="rules" className="min-h-0 flex-1 overflow-auto">
          <Setup />
        </Tabs.Content>
        <Tabs.Content value="outcomes" className="flex min-h-0 flex-1 flex-col">
          <Outcomes />
        </Tabs.Content>
        <Tabs.Content value="inbox" className="min-h-0 flex-1 overflow-auto">
          <Inbox />
        </Tabs.Content>
      </Tabs.Root>
    </Page>
  );
}

function Setup() {
  const { setup, withSecret, error, change, remove } = useSetup();
  if (error) return <Failure error={error} />;
  if (!setup) return <Loading what="the alerts" />;
  return (
    <div className="mx-auto flex max-w-5xl flex-col gap-6 p-4">
      <Rules
        setup={setup}
        onChange={(rules) => void change({ rules })}
        onRemove={(id) => void remove({ rules: setup.rules.filter((rule) => rule.id !== id) }, "Rule")}
      />
      <Channels setup={setup} withSecret={withSecret} onChange={change} onRemove={(part, what) => void remove(part, what)} />
      <Here />
      <Limits setup={setup} onChange={(part) => void change(part)} />
    </div>
  );
}
