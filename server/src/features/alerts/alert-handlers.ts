import type { PracticeInbox } from "@plan-tester/contract";
import type { HandlersOf } from "../../http/serve.ts";
import type { AlertService } from "./alert-service.ts";

type Names = "getAlerts" | "setAlerts" | "setAlertSecret" | "testAlert" | "previewAlert" | "listDeliveries" | "getInbox";

/** @param inbox what the practice venue took */
export function alertHandlers(alerts: AlertService, inbox: () => Promise<PracticeInbox>): HandlersOf<Names> {
  return {
    getAlerts: () => alerts.view(),
    setAlerts: ({ body }) => alerts.change(body),
    setAlertSecret: ({ params, body }) => alerts.setSecret(params.id, body.secret),
    testAlert: ({ params }) => alerts.test(params.id),
    previewAlert: ({ body }) => alerts.preview(body.channel),
    listDeliveries: ({ query }) => alerts.deliveries(query),
    getInbox: () => inbox(),
  };
}
