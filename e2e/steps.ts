/** Steps that several specs take. */
import type { Locator, Page } from "@playwright/test";

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
