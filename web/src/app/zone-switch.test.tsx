import { act } from "react";
import { afterEach, expect, test } from "vitest";
import { timeAt } from "../lib/format.ts";
import { chooseZone, OF_EXCHANGE, useShownZone } from "../lib/shown-zone.ts";
import { remembered } from "../lib/site-data.ts";
import { control, press, show, type } from "../testing.tsx";
import { ZoneSwitch } from "./zone-switch.tsx";

afterEach(() => chooseZone(OF_EXCHANGE));

const NOON = Date.UTC(2025, 6, 1, 12);
const Moment = ({ exchange }: { readonly exchange: string }) => <output>{timeAt(NOON, useShownZone()(exchange))}</output>;

test("moments are shown as their exchange has them, until one zone is chosen for all; another day it is the same", async () => {
  const host = await show(
    <>
      <ZoneSwitch />
      <Moment exchange="Asia/Tokyo" />
      <Moment exchange="UTC" />
    </>,
  );
  const shown = () => [...host.querySelectorAll("output")].map(({ textContent }) => textContent!);
  expect(shown().map((text) => text.match(/\d\d:\d\d/)![0])).toEqual(["21:00", "12:00"]);
  await press(host, "Exchange time");
  await type(control(document.body, "Moments are shown"), "Europe/Berlin");
  expect(shown().map((text) => text.match(/\d\d:\d\d/)![0])).toEqual(["14:00", "14:00"]);
  expect(host.querySelector("button")!.textContent).toBe("Europe/Berlin");
  expect(remembered.getItem("shown zone")).toBe("Europe/Berlin");
  await act(async () => chooseZone(OF_EXCHANGE));
  expect(shown()[0]).toContain("21:00");
});

test("a zone that the browser does not know is none", async () => {
  chooseZone("Isles/Nowhere");
  const host = await show(<ZoneSwitch />);
  expect(host.querySelector("button")!.textContent).toBe("Exchange time");
});
