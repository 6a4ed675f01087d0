/** A line in which rules are written as sentences: what would fit next is offered, and what can't be read is marked at its word. */
import { fittingAt, PlanTesterError, type ReadRules, readRules } from "@plan-tester/core";
import { type KeyboardEvent, useId, useRef, useState } from "react";
import { cx } from "../../ui/cx.ts";

export interface RuleLineProps {
  readonly label: string;
  /** Shows what a rule may look like. */
  readonly hasExample: boolean;
  readonly onRules: (rules: ReadRules) => void;
}

const MOST_OFFERED = 8;

interface Offer {
  /** Text ahead of the word that is offered. */
  readonly head: string;
  readonly words: readonly string[];
}

/** What may follow, given the beginning of a word that is being written. */
function offerFor(text: string): Offer {
  const { at, words } = fittingAt(text);
  const tail = text.slice(at).toLowerCase();
  const plain = tail.replace(/^the /, "");
  const fits = words.filter((word) => word.toLowerCase().startsWith(tail) || word.toLowerCase().replace(/^the /, "").startsWith(plain));
  const offered = fits.filter((word) => !word.startsWith("a ") && word !== "the end of the sentence");
  const head = text.slice(0, at);
  return { head: head === "" || head.endsWith(" ") || head.endsWith("(") ? head : `${head} `, words: offered.slice(0, MOST_OFFERED) };
}

export function RuleLine({ label, hasExample, onRules }: RuleLineProps) {
  const [text, setText] = useState("");
  const [problem, setProblem] = useState<{ readonly at: number; readonly message: string } | null>(null);
  const [chosen, setChosen] = useState(-1);
  const [isOpen, setOpen] = useState(false);
  const input = useRef<HTMLInputElement>(null);
  const listId = useId();
  const { head, words } = isOpen ? offerFor(text) : { head: "", words: [] };

  const write = (next: string): void => {
    setText(next);
    setProblem(null);
    setChosen(-1);
    setOpen(true);
  };
  const insert = (word: string): void => {
    write(`${/^[,)]/.test(word) ? head.trimEnd() : head}${word}${word.endsWith("(") ? "" : " "}`);
    input.current?.focus();
  };
  const submit = (): void => {
    if (text.trim() === "") return;
    try {
      onRules(readRules(text));
      write("");
      setOpen(false);
    } catch (error) {
      if (!(error instanceof PlanTesterError)) throw error;
      setProblem({ at: Number(error.details.at), message: String(error.details.problem) });
      setOpen(false);
    }
  };
  const onKeyDown = (event: KeyboardEvent): void => {
    const step = { ArrowDown: 1, ArrowUp: -1 }[event.key];
    if (step && words.length > 0) {
      event.preventDefault();
      // -1 is the line itself.
      setChosen((now) => ((now + 1 + step + words.length + 1) % (words.length + 1)) - 1);
    } else if ((event.key === "Enter" || event.key === "Tab") && words[chosen] !== undefined) {
      event.preventDefault();
      insert(words[chosen]);
    } else if (event.key === "Enter") {
      event.preventDefault();
      submit();
    } else if (event.key === "Escape" && isOpen) {
      event.stopPropagation();
      setOpen(false);
    }
  };

  return (
    <div className="relative">
      <input
        ref={input}
        role="combobox"
        aria-label={label}
        aria-expanded={words.length > 0}
        aria-controls={listId}
        aria-activedescendant={words[chosen] === undefined ? undefined : `${listId}-${chosen}`}
        aria-invalid={problem !== null}
        className="h-7 w-full rounded border border-rule border-dashed bg-transparent px-2 text-[13px] placeholder:text-soft focus:border-solid"
        placeholder={hasExample ? "Write a rule: RSI on 1h crosses below 30, and close is above EMA (50) on 1d" : "Add a rule"}
        autoComplete="off"
        spellCheck={false}
        maxLength={1000}
        value={text}
        onChange={({ target }) => write(target.value)}
        onFocus={() => setOpen(true)}
        onBlur={() => setOpen(false)}
        onKeyDown={onKeyDown}
      />
      {words.length > 0 ? (
        <div
          id={listId}
          role="listbox"
          aria-label="What fits next"
          className="absolute z-40 mt-1 flex max-w-full flex-wrap gap-1 rounded-md border border-rule bg-sheet p-1.5 shadow-(--shadow)"
        >
          {words.map((word, i) => (
            <div key={word} id={`${listId}-${i}`} role="option" tabIndex={-1} aria-selected={i === chosen}>
              <button
                type="button"
                tabIndex={-1}
                className={cx("rounded border border-rule px-1.5 text-[12px] hover:bg-sunk", i === chosen && "bg-accent-wash")}
                onMouseDown={(event) => event.preventDefault()}
                onClick={() => insert(word)}
              >
                {word}
              </button>
            </div>
          ))}
        </div>
      ) : null}
      {problem ? (
        <p role="alert" className="mt-1 text-[12px] text-loss">
          {text.slice(0, problem.at).trim() ? <span className="text-soft">{text.slice(0, problem.at)}</span> : null}
          <mark className="bg-loss-wash text-loss underline decoration-wavy">{text.slice(problem.at).trim() || "…"}</mark> {problem.message}
        </p>
      ) : null}
    </div>
  );
}
