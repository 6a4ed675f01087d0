/** Web calls go where the user says, but not to this machine or its network unless that is allowed: an address is judged when it is connected to. */
import { lookup } from "node:dns";
import { isIP, type LookupFunction } from "node:net";
import { PlanTesterError } from "@plan-tester/core";
import ipaddr from "ipaddr.js";

/** Neither loopback, nor private, nor link-local, nor any other range that is not the open network. */
export function isPublic(address: string): boolean {
  const parsed = ipaddr.parse(address);
  const plain =
    parsed.kind() === "ipv6" && (parsed as ipaddr.IPv6).isIPv4MappedAddress() ? (parsed as ipaddr.IPv6).toIPv4Address() : parsed;
  return plain.range() === "unicast";
}

const refusal = (host: string, address: string): PlanTesterError =>
  new PlanTesterError(
    "bad-input",
    `${host} is ${address === host ? "" : `${address}, `}on this machine or a private network; web calls go there only when the setting allows it.`,
    { host, address },
  );

/** @throws PlanTesterError bad-input where the host is itself an address that is not public. */
export function refusePrivate(host: string): void {
  const bare = host.replace(/^\[|\]$/g, "");
  if (isIP(bare) && !isPublic(bare)) throw refusal(bare, bare);
}

/** Resolves names, and fails where a name leads to an address that is not public. */
export const publicLookup: LookupFunction = (host, options, done) => {
  lookup(host, { ...options, all: true }, (error, addresses) => {
    if (error) return done(error, "", 0);
    const wrong = addresses.find(({ address }) => !isPublic(address));
    if (wrong) return done(refusal(host, wrong.address), "", 0);
    const [first] = addresses;
    if (!first) return done(new Error(`${host} has no address`), "", 0);
    if (options.all) return done(null, addresses);
    done(null, first.address, first.family);
  });
};
