import { DropdownMenu } from "radix-ui";
import type { ReactNode } from "react";

export interface MenuItem {
  readonly label: string;
  /** Shown at the right: the key that does the same. */
  readonly keys?: string;
  readonly act: () => void;
  readonly isOff?: boolean;
}

/** Acts behind one button. */
export function Menu({ trigger, items }: { readonly trigger: ReactNode; readonly items: readonly MenuItem[] }) {
  return (
    <DropdownMenu.Root>
      <DropdownMenu.Trigger asChild>{trigger}</DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content
          align="end"
          sideOffset={6}
          className="z-50 min-w-52 rounded-md border border-rule bg-sheet p-1 text-[13px] shadow-(--shadow)"
        >
          {items.map(({ label, keys, act, isOff = false }) => (
            <DropdownMenu.Item
              key={label}
              disabled={isOff}
              onSelect={act}
              className="flex cursor-pointer items-center justify-between gap-6 rounded px-2 py-1 outline-none data-[disabled]:opacity-45 data-[highlighted]:bg-accent-wash"
            >
              {label}
              {keys ? <kbd className="font-mono text-[11px] text-soft">{keys}</kbd> : null}
            </DropdownMenu.Item>
          ))}
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
}
