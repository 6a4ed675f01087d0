/** The two ways out of this machine: e-mail over SMTP, and web calls, signed where the channel has a secret. */
import { createHmac } from "node:crypto";
import { request as httpRequest, type IncomingMessage } from "node:http";
import { request as httpsRequest } from "node:https";
import type { EmailTarget, TemplateField, WebCallTarget } from "@plan-tester/contract";
import { PlanTesterError } from "@plan-tester/core";
import { createTransport } from "nodemailer";
import { publicLookup, refusePrivate } from "../../http/private-address.ts";
import { fill } from "./template.ts";

export type Fields = Readonly<Record<TemplateField, string>>;

const TIMEOUT_MS = 10_000;
/** Of an answer that is told. */
const MAX_TOLD = 200;

export interface Mail {
  readonly subject: string;
  readonly body: string;
}

export const mailOf = ({ subject, body }: EmailTarget, fields: Fields): Mail => ({
  // A field may hold a line break; a subject may not.
  subject: fill(subject, fields).replace(/\s+/g, " ").trim(),
  body: fill(body, fields),
});

/** @returns what the server answered. @throws Error saying why it was not taken */
export async function sendMail(target: EmailTarget, secret: string, fields: Fields): Promise<string> {
  const { host, port, security, user, from, to } = target;
  const { subject, body } = mailOf(target, fields);
  const transport = createTransport({
    ...{ host, port, secure: security === "tls", requireTLS: security === "starttls", ignoreTLS: security === "none" },
    ...{ connectionTimeout: TIMEOUT_MS, greetingTimeout: TIMEOUT_MS, socketTimeout: TIMEOUT_MS },
    ...(user ? { auth: { user, pass: secret } } : {}),
  });
  try {
    const { response, rejected } = await transport.sendMail({ from, to: [...to], subject, text: body });
    if (rejected.length > 0) throw new Error(`not taken for ${rejected.join(", ")}: ${response}`);
    return response;
  } finally {
    transport.close();
  }
}

export interface WebCall {
  readonly body: string;
  readonly headers: readonly { readonly name: string; readonly value: string }[];
}

const isJson = (headers: WebCall["headers"]): boolean =>
  headers.some(({ name, value }) => name.toLowerCase() === "content-type" && value.toLowerCase().includes("json"));

/** @param nowMs signed with the body, so that a call can't be sent again later by somebody else */
export function callOf({ headers, body, method }: WebCallTarget, secret: string, fields: Fields, nowMs: number): WebCall {
  const filled = method === "GET" ? "" : fill(body, fields, isJson(headers));
  const stamp = String(Math.floor(nowMs / 1000));
  const signature = createHmac("sha256", secret).update(`${stamp}.${filled}`).digest("hex");
  return {
    body: filled,
    headers: [
      ...headers.map(({ name, value }) => ({ name, value: fill(value, fields).replace(/[^\x20-\x7E]/g, "?") })),
      { name: "X-Plan-Tester-Alert", value: fields.id },
      ...(secret
        ? [
            { name: "X-Plan-Tester-Time", value: stamp },
            { name: "X-Plan-Tester-Signature", value: `sha256=${signature}` },
          ]
        : []),
    ],
  };
}

/** The address with its fields filled in, as parts of an address. */
function urlOf(url: string, fields: Fields): URL {
  const safe = Object.fromEntries(Object.entries(fields).map(([name, value]) => [name, encodeURIComponent(value)])) as Record<
    TemplateField,
    string
  >;
  return new URL(fill(url, safe));
}

/** @returns what the other side answered. @throws Error saying why it was not taken */
export async function sendCall(target: WebCallTarget, secret: string, fields: Fields, allowsPrivate: boolean): Promise<string> {
  const url = urlOf(target.url, fields);
  if (!allowsPrivate) refusePrivate(url.hostname);
  const { body, headers } = callOf(target, secret, fields, Date.now());
  const bytes = Buffer.from(body);
  const { status, text } = await new Promise<{ status: number; text: string }>((resolve, reject) => {
    const request = (url.protocol === "https:" ? httpsRequest : httpRequest)(url, {
      method: target.method,
      headers: { ...Object.fromEntries(headers.map(({ name, value }) => [name, value])), "Content-Length": bytes.length },
      timeout: TIMEOUT_MS,
      agent: false,
      ...(allowsPrivate ? {} : { lookup: publicLookup }),
    });
    const limit = setTimeout(() => request.destroy(new Error(`no answer in ${TIMEOUT_MS / 1000} s`)), TIMEOUT_MS);
    request.on("timeout", () => request.destroy(new Error(`no answer in ${TIMEOUT_MS / 1000} s`)));
    request.on("error", reject);
    request.on("close", () => clearTimeout(limit));
    request.on("response", (response: IncomingMessage) => {
      let told = "";
      response.setEncoding("utf8");
      response.on("data", (part: string) => {
        if (told.length < MAX_TOLD) told += part;
      });
      response.on("error", reject);
      response.on("end", () => resolve({ status: response.statusCode ?? 0, text: told.slice(0, MAX_TOLD).replace(/\s+/g, " ").trim() }));
    });
    request.end(bytes);
  });
  const answer = `answered ${status}${text ? `: ${text}` : ""}`;
  // Somewhere else than where the user said is nowhere.
  if (status >= 300 && status < 400)
    throw new PlanTesterError("bad-input", `${answer}; redirects are not followed, give the address it leads to`, {});
  if (status >= 400) throw new Error(answer);
  return answer;
}
