/** The pages of the help: the same texts as in docs/. */
import commandLine from "../../../../docs/command-line.md?raw";
import engineRules from "../../../../docs/engine-rules.md?raw";
import firstSteps from "../../../../docs/first-steps.md?raw";
import glossary from "../../../../docs/glossary.md?raw";
import planLanguage from "../../../../docs/plan-language.md?raw";
import studies from "../../../../docs/studies.md?raw";
import sweeps from "../../../../docs/sweeps.md?raw";
import watches from "../../../../docs/watches.md?raw";

export const PAGES = [
  ["first-steps", "First steps", firstSteps],
  ["plan-language", "Plan language", planLanguage],
  ["studies", "Studies", studies],
  ["engine-rules", "Engine rules", engineRules],
  ["sweeps", "Sweeps", sweeps],
  ["watches", "Watches", watches],
  ["command-line", "Command line", commandLine],
  ["glossary", "Glossary", glossary],
] as const;
