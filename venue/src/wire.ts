/** JSON has no NaN or Infinity: they are written as null, and read again by what a field means. */
import type { AccountReport, EventReport, Order, OrderTicket, PlanCommand } from "@plan-tester/core";

const orNaN = (value: number | null): number => value ?? Number.NaN;
const orNever = (value: number | null): number => value ?? Number.POSITIVE_INFINITY;

export const readTicket = (ticket: OrderTicket): OrderTicket => ({
  ...ticket,
  price: orNaN(ticket.price),
  limitPrice: orNaN(ticket.limitPrice),
  quantity: orNever(ticket.quantity),
  expiresBar: orNever(ticket.expiresBar),
  expiresTime: orNever(ticket.expiresTime),
});

const readOrder = (order: Order): Order => ({
  ...order,
  ...readTicket(order),
  fillPrice: orNaN(order.fillPrice),
  fillTime: orNaN(order.fillTime),
});

export const readCommand = (command: PlanCommand): PlanCommand =>
  command.kind === "submit" ? { ...command, ticket: readTicket(command.ticket) } : command;

export const readAccount = (report: AccountReport): AccountReport => ({
  ...report,
  books: report.books.map((book) => ({ ...book, pathPrice: orNaN(book.pathPrice), orders: book.orders.map(readOrder) })),
});

export const readReport = <T extends EventReport>(report: T): T => ({
  ...report,
  event: "order" in report.event ? { ...report.event, order: readOrder(report.event.order) } : report.event,
  left: report.left.map(readOrder),
  account: readAccount(report.account),
});
