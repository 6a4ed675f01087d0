/** Steps that several specs take. */
import { expect, type Locator, type Page } from "@playwright/test";

export const editorOf = (page: Page): Locator => page.getByTestId("editor").locator(".monaco-editor").first();

/** Puts the cursor into the first line, where the source is not scrolled. */
export const intoEditor = (page: Page): Promise<void> => editorOf(page).click({ position: { x: 200, y: 15 } });

/** Puts text in place of the source. The clipboard keeps the editor from indenting what is typed. */
export async function write(page: Page, source: string): Promise<void> {
  await intoEditor(page);
  await page.keyboard.press("Control+a");
  await page.evaluate((text) => {
    const data = new DataTransfer();
    data.setData("text/plain", text);
    document.activeElement?.dispatchEvent(new ClipboardEvent("paste", { clipboardData: data, bubbles: true, cancelable: true }));
  }, source);
}

/** The net profit in the summary. */
export const netOf = (page: Page): Locator => page.locator("section", { hasText: "What it made" }).locator("strong").first();

/** The practice venue itself, which allows speeds that nobody could watch. */
export const VENUE = "http://127.0.0.1:4392";

/** The hour in Sundrey, 0-23.99, at a time of the practice venue's clock; NaN at the weekend. */
function hourOf(ms: number): number {
  const parts = new Intl.DateTimeFormat("en-GB", {
    timeZone: "Atlantic/Faroe",
    ...{ weekday: "short", hour: "2-digit", minute: "2-digit" },
  }).formatToParts(ms);
  const part = (type: string): string => parts.find((one) => one.type === type)!.value;
  return part("weekday").startsWith("S") ? Number.NaN : Number(part("hour")) + Number(part("minute")) / 60;
}

/**
 * Lets the venue's clock run on until the futures market has hours of trading before it, then at 1x. How far it stands depends
 * on how long earlier specs took, and while another market is open it does not skip a night in which nothing can be filled.
 */
export async function untilMarketIsOpen({ request }: Page): Promise<void> {
  await expect
    .poll(
      async () => {
        const { nowMs } = (await (await request.get(`${VENUE}/status`)).json()) as { nowMs: number };
        const hour = hourOf(nowMs);
        const isOpen = hour >= 8 && hour < 15;
        await request.post(`${VENUE}/clock`, { data: { speed: isOpen ? 1 : 20_000 } });
        return isOpen;
      },
      { timeout: 60_000, intervals: [50] },
    )
    .toBe(true);
}
