import type { ReactNode } from "react";

/** What the browser calls the page, in its tab and its history. */
export const TabTitle = ({ text }: { readonly text: string }) => <title>{`${text} – Plan Tester`}</title>;

export interface PageProps {
  readonly title: ReactNode;
  /** What the browser calls it; the title where that is a plain text. */
  readonly name?: string;
  readonly aside?: ReactNode;
  readonly children: ReactNode;
}

/** A page below the top bar: a head that stays, a body that scrolls. */
export function Page({ title, name, aside, children }: PageProps) {
  return (
    <main className="flex min-h-0 flex-1 flex-col">
      <TabTitle text={name ?? (typeof title === "string" ? title : "")} />
      <div className="flex min-h-11 flex-wrap items-center justify-between gap-x-4 gap-y-1 border-rule border-b bg-sheet px-4 py-1.5">
        <h1 className="font-semibold text-[15px]">{title}</h1>
        <div className="flex min-w-0 flex-wrap items-center gap-2">{aside}</div>
      </div>
      <div className="min-h-0 flex-1 overflow-auto">{children}</div>
    </main>
  );
}

export const th =
  "sticky top-0 z-10 bg-ground px-3 py-1.5 text-left text-[13px] font-normal text-soft whitespace-nowrap border-b border-rule";
/** A cell whose text may go over several lines, and one whose text may not. */
export const tdText = "px-3 py-1 border-b border-rule/60";
export const td = `${tdText} whitespace-nowrap`;
export const num = "text-right";
