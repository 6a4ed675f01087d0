/** Working orders of a watch; each can be cancelled by hand. */
import type { WatchDetail } from "@plan-tester/contract";
import { useDecimals } from "../../data/markets.ts";
import { useChange } from "../../data/use-change.ts";
import { priceText, units } from "../../lib/format.ts";
import { Button } from "../../ui/button.tsx";

export function WatchOrders({ watch }: { readonly watch: WatchDetail }) {
  const { id, workingOrders } = watch;
  const decimalsOf = useDecimals();
  const cancelWatchOrder = useChange("cancelWatchOrder");
  return (
    <section aria-label="Working orders">
      <h2 className="pb-1 font-semibold">Working orders</h2>
      {workingOrders.length === 0 ? <p className="text-soft">None.</p> : null}
      <ul>
        {workingOrders.map((order) => (
          <li key={`${order.symbol} ${order.id}`} className="flex items-center justify-between gap-3 border-rule border-b py-1">
            <span>
              {order.side > 0 ? "buy" : "sell"} {order.quantity === null ? "all" : units(order.quantity)} {order.kind}{" "}
              {order.tag ? `“${order.tag}”` : ""}
            </span>
            <span className="flex items-center gap-3">
              <strong>{order.kind === "market" ? "at market" : priceText(order.price, decimalsOf(order.symbol))}</strong>
              <Button
                variant="quiet"
                aria-label={`Cancel order ${order.id}`}
                onClick={() => void cancelWatchOrder.run({ id, order: String(order.id) })}
              >
                Cancel
              </Button>
            </span>
          </li>
        ))}
      </ul>
    </section>
  );
}
