/** Draws of thousands of sequences, beside the page. */
import { answerWith } from "../../lib/ask-worker.ts";
import { type Meaning, type MeaningQuestion, meaningOf } from "./meaning.ts";

answerWith<MeaningQuestion, Meaning>(meaningOf);
