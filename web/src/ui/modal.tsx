import { X } from "lucide-react";
import { Dialog } from "radix-ui";
import { type ReactNode, useState } from "react";
import { focusAgain } from "./focus-again.ts";

const sizes = { plain: "w-[480px]", wide: "w-[860px]", full: "w-[1240px]" } as const;

export interface ModalProps {
  readonly title: string;
  readonly description?: string;
  readonly onClose: () => void;
  readonly children: ReactNode;
  readonly size?: keyof typeof sizes;
}

/** A dialog that is open for as long as it is rendered. */
export function Modal({ title, description, onClose, children, size = "plain" }: ModalProps) {
  // No trigger is known here: focus goes back to whatever had it when the dialog opened.
  const [before] = useState(() => document.activeElement);
  return (
    <Dialog.Root open onOpenChange={(open) => !open && onClose()}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-ink/30" />
        <Dialog.Content
          className={`fixed top-[8vh] left-1/2 z-50 flex max-h-[84vh] ${sizes[size]} max-w-[94vw] -translate-x-1/2 flex-col rounded-md border border-rule bg-sheet shadow-(--shadow)`}
          {...(description ? {} : { "aria-describedby": undefined })}
          onCloseAutoFocus={(event) => {
            event.preventDefault();
            focusAgain(before);
          }}
        >
          <div className="flex items-center justify-between border-rule border-b px-4 py-2.5">
            <Dialog.Title className="font-semibold text-[15px]">{title}</Dialog.Title>
            <Dialog.Close className="rounded p-1 text-soft hover:bg-sunk hover:text-ink" aria-label="Close">
              <X size={16} />
            </Dialog.Close>
          </div>
          {description ? <Dialog.Description className="px-4 pt-3 text-soft">{description}</Dialog.Description> : null}
          <div className="min-h-0 overflow-auto p-4">{children}</div>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}
