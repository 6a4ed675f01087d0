import { type ComponentProps, type ReactNode, useId } from "react";
import { cx } from "./cx.ts";

export const inputClass =
  "h-7 w-full rounded border border-rule bg-sheet px-2 text-ink aria-invalid:border-loss disabled:bg-sunk disabled:text-soft";

export interface FieldProps {
  readonly label: string;
  readonly hint?: string;
  readonly children: (id: string) => ReactNode;
  readonly className?: string;
}

/** A label over its control. */
export function Field({ label, hint, children, className }: FieldProps) {
  const id = useId();
  return (
    <div className={cx("flex flex-col gap-1", className)}>
      <label htmlFor={id} className="text-[13px] text-soft">
        {label}
      </label>
      {children(id)}
      {hint ? <p className="text-[12px] text-soft">{hint}</p> : null}
    </div>
  );
}

export function TextInput({ className, ...props }: ComponentProps<"input">) {
  return <input className={cx(inputClass, className)} {...props} />;
}

export function Select({ className, ...props }: ComponentProps<"select">) {
  return <select className={cx(inputClass, "pr-1", className)} {...props} />;
}
