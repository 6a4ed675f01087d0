import type { ComponentProps } from "react";
import { cx } from "./cx.ts";

const variants = {
  primary: "bg-accent text-on-accent hover:opacity-90 border-transparent",
  plain: "bg-transparent text-ink hover:bg-sunk border-rule",
  quiet: "bg-transparent text-soft hover:text-ink hover:bg-sunk border-transparent",
  danger: "bg-transparent text-loss hover:bg-loss-wash border-rule",
} as const;

export interface ButtonProps extends ComponentProps<"button"> {
  readonly variant?: keyof typeof variants;
}

export function Button({ variant = "plain", className, type = "button", ...props }: ButtonProps) {
  return (
    <button
      type={type}
      className={cx(
        "inline-flex h-7 items-center gap-1.5 whitespace-nowrap rounded border px-2.5 text-[13px] font-semibold disabled:cursor-not-allowed disabled:opacity-45",
        variants[variant],
        className,
      )}
      {...props}
    />
  );
}

export function Key({ children }: { readonly children: string }) {
  return <kbd className="rounded border border-current/30 px-1 font-mono text-[11px] font-normal">{children}</kbd>;
}
