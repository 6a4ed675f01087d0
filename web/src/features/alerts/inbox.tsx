/** The practice venue's mailbox and its address for web calls: to try alerts without anybody else. */
import type { PracticeInbox } from "@plan-tester/contract";
import { useQuery } from "@tanstack/react-query";
import { queries } from "../../data/queries.ts";
import { HERE, timeAt } from "../../lib/format.ts";
import { Failure, Loading } from "../../ui/states.tsx";

type Mail = PracticeInbox["mails"][number];
type Call = PracticeInbox["calls"][number];

export function Inbox() {
  const { data, error } = useQuery(queries.inbox());
  if (error) return <Failure error={error} />;
  if (!data) return <Loading what="the inbox" />;
  return (
    <div className="mx-auto flex max-w-5xl flex-col gap-4 p-4">
      <p className="text-soft">
        The practice venue takes mail at <code>127.0.0.1</code>, port <code>{data.smtpPort || "none: it is taken by another program"}</code>
        , without encryption, with any user or none; and web calls at <code>{data.callUrl}</code>, for which calls to this machine have to
        be allowed. It keeps the last 200 of each until it ends.
      </p>
      <div className="grid gap-6 lg:grid-cols-2">
        <section aria-label="Mails" className="flex min-w-0 flex-col gap-2">
          <h2 className="font-semibold">Mails</h2>
          {data.mails.length === 0 ? <p className="text-soft">None yet.</p> : null}
          {data.mails.map((mail) => (
            <MailBox key={mail.id} mail={mail} />
          ))}
        </section>
        <section aria-label="Web calls" className="flex min-w-0 flex-col gap-2">
          <h2 className="font-semibold">Web calls</h2>
          {data.calls.length === 0 ? <p className="text-soft">None yet.</p> : null}
          {data.calls.map((call) => (
            <CallBox key={call.id} call={call} />
          ))}
        </section>
      </div>
    </div>
  );
}

const boxClass = "rounded border border-rule bg-sheet px-3 py-2";
const textClass = "mt-1 whitespace-pre-wrap break-words font-mono text-[12px]";

function MailBox({ mail: { atMs, from, to, subject, text } }: { readonly mail: Mail }) {
  return (
    <details className={boxClass}>
      <summary className="cursor-pointer">
        {subject} <span className="text-[13px] text-soft">{timeAt(atMs, HERE)}</span>
      </summary>
      <p className="text-[13px] text-soft">
        {from} to {to}
      </p>
      <pre className={textClass}>{text}</pre>
    </details>
  );
}

function CallBox({ call: { atMs, method, path, headers, body } }: { readonly call: Call }) {
  return (
    <details className={boxClass}>
      <summary className="cursor-pointer">
        {method} {path} <span className="text-[13px] text-soft">{timeAt(atMs, HERE)}</span>
      </summary>
      <pre className={`${textClass} text-soft`}>
        {Object.entries(headers)
          .map(([name, value]) => `${name}: ${value}`)
          .join("\n")}
      </pre>
      <pre className={textClass}>{body}</pre>
    </details>
  );
}
