import { CircleAlert } from "lucide-react";
import type { ReactNode } from "react";
import { messageOf } from "../data/api.ts";

/** What to do first, where there is nothing yet. */
export function Empty({ title, children }: { readonly title: string; readonly children?: ReactNode }) {
  return (
    <div className="mx-auto flex max-w-md flex-col items-center gap-2 px-6 py-14 text-center">
      <h2 className="font-semibold text-[15px]">{title}</h2>
      <div className="text-soft">{children}</div>
    </div>
  );
}

export function Loading({ what }: { readonly what: string }) {
  return (
    <div role="status" className="p-6 text-soft">
      Loading {what} …
    </div>
  );
}

export function Failure({ error, children }: { readonly error: unknown; readonly children?: ReactNode }) {
  return (
    <div role="alert" className="m-4 flex gap-2 border-loss border-l-3 bg-loss-wash px-3 py-2">
      <CircleAlert size={16} className="mt-0.5 shrink-0 text-loss" aria-hidden />
      <div>
        <p>{messageOf(error)}</p>
        {children}
      </div>
    </div>
  );
}
