import type { Background } from "../background.ts";
import type { HandlersOf } from "../http/serve.ts";
import type { DemoWorld } from "./demo.ts";

export function demoHandlers(demo: DemoWorld, background: Background): HandlersOf<"getDemo" | "makeDemo" | "removeDemo"> {
  return {
    getDemo: async () => ({ state: await demo.state() }),
    makeDemo() {
      background.run("the demo world was not made", {}, () => demo.make(() => undefined));
      return { state: "making" };
    },
    removeDemo: () => demo.remove(),
  };
}
