/** The pages of the help: the same texts as in docs/. */
import bundles from "../../../../docs/bundles.md?raw";
import commandLine from "../../../../docs/command-line.md?raw";
import data from "../../../../docs/data.md?raw";
import engineRules from "../../../../docs/engine-rules.md?raw";
import firstSteps from "../../../../docs/first-steps.md?raw";
import glossary from "../../../../docs/glossary.md?raw";
import planLanguage from "../../../../docs/plan-language.md?raw";
import ruleSheets from "../../../../docs/rule-sheets.md?raw";
import sizing from "../../../../docs/sizing-and-blends.md?raw";
import studies from "../../../../docs/studies.md?raw";
import sweeps from "../../../../docs/sweeps.md?raw";
import watches from "../../../../docs/watches.md?raw";

/** Pictures show the screen that one is on. */
const withoutPictures = (text: string): string => text.replace(/^!\[.*\]\(.*\)\n\n?/gm, "");

export const PAGES = [
  ["first-steps", "First steps", firstSteps],
  ["plan-language", "Plan language", planLanguage],
  ["rule-sheets", "Rule sheets", withoutPictures(ruleSheets)],
  ["studies", "Studies", studies],
  ["engine-rules", "Engine rules", engineRules],
  ["sweeps", "Sweeps", sweeps],
  ["sizing", "Sizing and blends", sizing],
  ["data", "Data", data],
  ["bundles", "Bundles", bundles],
  ["watches", "Watches", watches],
  ["command-line", "Command line", commandLine],
  ["glossary", "Glossary", glossary],
] as const;
