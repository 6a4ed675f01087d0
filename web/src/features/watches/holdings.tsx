/** What is open or waits at the venue and belongs to no watch: shown until it is closed. */
import { useQuery } from "@tanstack/react-query";
import { useDecimals } from "../../data/markets.ts";
import { queries } from "../../data/queries.ts";
import { useChange } from "../../data/use-change.ts";
import { count } from "../../lib/format.ts";
import { Button } from "../../ui/button.tsx";
import { positionText } from "./position-text.ts";

export function Holdings() {
  const { data } = useQuery(queries.holdings());
  const decimalsOf = useDecimals();
  const closeHolding = useChange("closeHolding");
  if (!data || data.length === 0) return null;
  return (
    <section aria-label="At the venue, of no watch" className="border-warn border-l-3 bg-warn-wash px-4 py-2">
      {data.map(({ account, owner, positions, orders }) => (
        <p key={`${account} ${owner}`} className="flex flex-wrap items-center gap-3">
          <span className="flex-1">
            The account “{account}” holds what belongs to no watch:{" "}
            {positions.map((position) => positionText(position, decimalsOf(position.symbol))).join(", ")}
            {orders > 0 ? ` ${positions.length > 0 ? "and " : ""}${count(orders, "order")}` : ""}
          </span>
          <Button variant="danger" onClick={() => void closeHolding.run({ account, owner })}>
            Cancel and close it
          </Button>
        </p>
      ))}
    </section>
  );
}
