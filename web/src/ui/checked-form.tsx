import type { ComponentProps } from "react";

export interface CheckedFormProps extends Omit<ComponentProps<"form">, "onSubmit" | "ref"> {
  readonly onSubmit: () => void;
}

/** A form that is not sent while something in it does not fit: the first such field gets the keyboard, and says why. */
export function CheckedForm({ onSubmit, ...form }: CheckedFormProps) {
  return (
    <form
      // The browser's own words would come in its own language, ahead of ours.
      noValidate
      {...form}
      onSubmit={(event) => {
        event.preventDefault();
        const wrong = event.currentTarget.querySelector<HTMLElement>("[aria-invalid=true]:not(:disabled)");
        if (wrong) wrong.focus();
        else onSubmit();
      }}
    />
  );
}
