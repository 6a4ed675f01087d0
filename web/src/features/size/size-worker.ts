/** The draws that sizes are worked out from, beside the page: thousands of them. */
import { answerWith } from "../../lib/ask-worker.ts";
import { type Falls, type FallsQuestion, fallsOf } from "./falls.ts";

answerWith<FallsQuestion, Falls>(fallsOf);
