import { QueryClientProvider } from "@tanstack/react-query";
import { StrictMode } from "react";
import { createRoot } from "react-dom/client";
import { createBrowserRouter, Navigate, RouterProvider } from "react-router";
import { PageFailure } from "./app/page-failure.tsx";
import { Shell } from "./app/shell.tsx";
import { makeClient } from "./data/client.ts";
import { keepDrafts } from "./features/drafts/drafts.ts";
import { Empty, Loading } from "./ui/states.tsx";
import "./styles.css";

const client = makeClient();

/** Each page is loaded when it is first gone to: what the Bench needs, its editor above all, loads with the Bench. */
const router = createBrowserRouter([
  {
    element: <Shell />,
    errorElement: <PageFailure />,
    HydrateFallback: () => <Loading what="the page" />,
    children: [
      { index: true, element: <Navigate to="/plans" replace /> },
      { path: "markets", lazy: async () => ({ Component: (await import("./features/markets/markets-page.tsx")).MarketsPage }) },
      { path: "markets/:symbol", lazy: async () => ({ Component: (await import("./features/markets/market-page.tsx")).MarketPage }) },
      { path: "plans", lazy: async () => ({ Component: (await import("./features/plans/plans-page.tsx")).PlansPage }) },
      { path: "plans/:planId", lazy: async () => ({ Component: (await import("./features/bench/bench-page.tsx")).BenchPage }) },
      { path: "runs", lazy: async () => ({ Component: (await import("./features/runs/runs-page.tsx")).RunsPage }) },
      { path: "runs/:runId", lazy: async () => ({ Component: (await import("./features/runs/run-page.tsx")).RunPage }) },
      { path: "compare", lazy: async () => ({ Component: (await import("./features/compare/compare-page.tsx")).ComparePage }) },
      { path: "batches/:batchId", lazy: async () => ({ Component: (await import("./features/compare/batch-page.tsx")).BatchPage }) },
      { path: "blends", lazy: async () => ({ Component: (await import("./features/blends/blends-page.tsx")).BlendsPage }) },
      { path: "blends/compare", lazy: async () => ({ Component: (await import("./features/blends/blends-compared.tsx")).BlendsCompared }) },
      { path: "blends/:blendId", lazy: async () => ({ Component: (await import("./features/blends/blend-page.tsx")).BlendPage }) },
      { path: "sweeps", lazy: async () => ({ Component: (await import("./features/sweeps/sweeps-page.tsx")).SweepsPage }) },
      { path: "sweeps/:sweepId", lazy: async () => ({ Component: (await import("./features/sweeps/sweep-page.tsx")).SweepPage }) },
      {
        path: "walk-forwards/:walkId",
        lazy: async () => ({ Component: (await import("./features/walk-forwards/walk-forward-page.tsx")).WalkForwardPage }),
      },
      { path: "watches", lazy: async () => ({ Component: (await import("./features/watches/watches-page.tsx")).WatchesPage }) },
      { path: "watches/alerts", lazy: async () => ({ Component: (await import("./features/alerts/alerts-page.tsx")).AlertsPage }) },
      { path: "watches/faults", lazy: async () => ({ Component: (await import("./features/watches/faults-page.tsx")).FaultsPage }) },
      { path: "watches/:watchId", lazy: async () => ({ Component: (await import("./features/watches/watch-page.tsx")).WatchPage }) },
      { path: "studies", lazy: async () => ({ Component: (await import("./features/studies/studies-page.tsx")).StudiesPage }) },
      { path: "studies/:study", lazy: async () => ({ Component: (await import("./features/studies/studies-page.tsx")).StudiesPage }) },
      { path: "sources", lazy: async () => ({ Component: (await import("./features/sources/sources-page.tsx")).SourcesPage }) },
      { path: "storage", lazy: async () => ({ Component: (await import("./features/storage/storage-page.tsx")).StoragePage }) },
      { path: "*", element: <Empty title="Page not found">Choose a place above, or press Ctrl+K.</Empty> },
    ],
  },
]);

keepDrafts();

createRoot(document.getElementById("root")!).render(
  <StrictMode>
    <QueryClientProvider client={client}>
      <RouterProvider router={router} />
    </QueryClientProvider>
  </StrictMode>,
);
