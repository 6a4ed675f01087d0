import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { StrictMode } from "react";
import { createRoot } from "react-dom/client";
import { createBrowserRouter, Navigate, RouterProvider } from "react-router";
import { Shell } from "./app/shell.tsx";
import { BenchPage } from "./features/bench/bench-page.tsx";
import { keepDrafts } from "./features/bench/drafts.ts";
import { BatchPage } from "./features/compare/batch-page.tsx";
import { ComparePage } from "./features/compare/compare-page.tsx";
import { MarketPage } from "./features/markets/market-page.tsx";
import { MarketsPage } from "./features/markets/markets-page.tsx";
import { PlansPage } from "./features/plans/plans-page.tsx";
import { RunPage } from "./features/runs/run-page.tsx";
import { RunsPage } from "./features/runs/runs-page.tsx";
import { SweepPage } from "./features/sweeps/sweep-page.tsx";
import { SweepsPage } from "./features/sweeps/sweeps-page.tsx";
import { WalkForwardPage } from "./features/walk-forwards/walk-forward-page.tsx";
import { WatchPage } from "./features/watches/watch-page.tsx";
import { WatchesPage } from "./features/watches/watches-page.tsx";
import { Empty } from "./ui/states.tsx";
import "./styles.css";

const client = new QueryClient({ defaultOptions: { queries: { retry: 1, staleTime: 5000, refetchOnWindowFocus: false } } });

const router = createBrowserRouter([
  {
    element: <Shell />,
    children: [
      { index: true, element: <Navigate to="/plans" replace /> },
      { path: "markets", element: <MarketsPage /> },
      { path: "markets/:symbol", element: <MarketPage /> },
      { path: "plans", element: <PlansPage /> },
      { path: "plans/:planId", element: <BenchPage /> },
      { path: "runs", element: <RunsPage /> },
      { path: "runs/:runId", element: <RunPage /> },
      { path: "compare", element: <ComparePage /> },
      { path: "batches/:batchId", element: <BatchPage /> },
      { path: "sweeps", element: <SweepsPage /> },
      { path: "sweeps/:sweepId", element: <SweepPage /> },
      { path: "walk-forwards/:walkId", element: <WalkForwardPage /> },
      { path: "watches", element: <WatchesPage /> },
      { path: "watches/:watchId", element: <WatchPage /> },
      { path: "*", element: <Empty title="Nothing is here">The address leads nowhere. Choose a place above, or press Ctrl+K.</Empty> },
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
