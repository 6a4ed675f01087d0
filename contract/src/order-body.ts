/** Orders as they come over the wire, as the core has them. */
import type { Order } from "@plan-tester/core";
import type { OrderBody, RunOrders, RunOrdersBody } from "./api.ts";

const orNaN = (value: number | null): number => value ?? Number.NaN;
const orNever = (value: number | null): number => value ?? Number.POSITIVE_INFINITY;

const orderOf = (body: OrderBody): Order => ({
  ...body,
  quantity: orNever(body.quantity),
  price: orNaN(body.price),
  limitPrice: orNaN(body.limitPrice),
  expiresBar: orNever(body.expiresBar),
  expiresTime: orNever(body.expiresTime),
  fillPrice: orNaN(body.fillPrice),
  fillTime: orNaN(body.fillTime),
});

export const runOrdersOf = ({ orders, fills }: RunOrdersBody): RunOrders => ({ orders: orders.map(orderOf), fills });
