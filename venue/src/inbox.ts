/** A mailbox and an address for web calls, so that alerts can be tried without anybody else: what came last is kept and can be looked at. */
import type { PracticeInbox } from "@plan-tester/contract";
import PostalMime from "postal-mime";
import { SMTPServer } from "smtp-server";

type Mail = PracticeInbox["mails"][number];
type Call = PracticeInbox["calls"][number];

const KEPT = 200;
const MAX_MAIL = 1_000_000;

export class Inbox {
  readonly #base: string;
  readonly #smtp: SMTPServer;
  #smtpPort = 0;
  #mails: Mail[] = [];
  #calls: Call[] = [];
  #last = 0;

  /** @param port of the venue; the mailbox listens on the next one, on this machine only */
  constructor(port: number) {
    this.#base = `http://127.0.0.1:${port}/inbox/calls`;
    this.#smtp = new SMTPServer({
      ...{ authOptional: true, disabledCommands: ["STARTTLS"], size: MAX_MAIL, allowInsecureAuth: true, logger: false },
      onAuth: ({ username }, _session, done) => done(null, { user: username }),
      onData: (stream, { envelope }, done) => {
        const parts: Buffer[] = [];
        stream.on("data", (part: Buffer) => parts.push(part));
        stream.on("end", () => {
          const from = envelope.mailFrom ? envelope.mailFrom.address : "";
          const to = envelope.rcptTo.map(({ address }) => address).join(", ");
          this.#keep(Buffer.concat(parts), from, to).then(
            () => done(null),
            (error: Error) => done(error),
          );
        });
      },
    });
    // A venue without a mailbox is one still: the port may be somebody else's.
    this.#smtp.on("error", (error) => console.error(`The practice mailbox: ${error.message}`));
    this.#smtp.listen(port + 1, "127.0.0.1", () => {
      this.#smtpPort = port + 1;
    });
  }

  async #keep(bytes: Buffer, from: string, to: string): Promise<void> {
    const { subject = "", text = "" } = await PostalMime.parse(bytes);
    this.#mails = [{ id: ++this.#last, atMs: Date.now(), from, to, subject, text: text.trimEnd() }, ...this.#mails].slice(0, KEPT);
  }

  takeCall(call: Omit<Call, "id" | "atMs">): void {
    this.#calls = [{ id: ++this.#last, atMs: Date.now(), ...call }, ...this.#calls].slice(0, KEPT);
  }

  /** Newest first. */
  list(): PracticeInbox {
    return { smtpPort: this.#smtpPort, callUrl: this.#base, mails: this.#mails, calls: this.#calls };
  }

  close(): void {
    this.#smtp.close(() => undefined);
  }
}
