/** A plan is renamed by changing its program, and by nothing else. */
import { afterAll, beforeAll, expect, test } from "vitest";
import { TestServer } from "../../testing.ts";

const server = new TestServer();
beforeAll(() => server.start());
afterAll(() => server.end());

const planOf = (head: string): string => `${head}  build({ bars }) {\n    return { onClose() { bars.close[0]; } };\n  },\n});\n`;

async function rename(source: string, title: string) {
  const { body: plan } = await server.ask("createPlan", {}, { source });
  const { status, body } = await server.ask("updatePlan", { id: plan.id }, { title });
  return { status, body, after: (await server.ask("getPlan", { id: plan.id })).body, id: plan.id };
}

test("its program and its title say the same afterwards", async () => {
  const title = 'Tide "two" \\ `three`';
  const { status, after } = await rename(planOf('export default plan({\n  title: "Tide",\n'), title);
  expect(status).toBe(200);
  expect(after).toMatchObject({ title, source: planOf(`export default plan({\n  title: ${JSON.stringify(title)},\n`) });
});

test.each([
  ["works it out", planOf('const name = "Tide";\nexport default plan({\n  title: name,\n')],
  ["has a plain title of something else before", planOf('export default plan({\n  notes: { title: "Other" },\n  title: "Tide",\n')],
  ["speaks of a plan before", planOf('// plan({ title: "Other" })\nexport default plan({\n  title: "Tide",\n')],
  ["can't be read", 'export default plan({ title: "Tide", build( });'],
])("a program that %s is left as it is, and that is said", async (_what, source) => {
  const { status, body, after } = await rename(source, "Ebb");
  expect(status).toBe(400);
  expect(body).toMatchObject({ error: { code: "bad-input", message: expect.stringMatching(/left as it is.*Change the title there/) } });
  expect(after).toMatchObject({ source, revision: 0 });
  expect(after.title).not.toBe("Ebb");
});
