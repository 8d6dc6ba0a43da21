import "@fontsource-variable/overpass";
import "@fontsource/b612-mono/400.css";
import "@fontsource/b612-mono/700.css";
import "./styles.css";
import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { lazy, StrictMode, Suspense } from "react";
import { createRoot } from "react-dom/client";
import { BrowserRouter, Route, Routes } from "react-router";
import { Trouble } from "./api/client";
import { showScreen } from "./job/Screen";
import { WhoProvider } from "./job/Who";
import { WaitingActs } from "./shop/WaitingActs";
import { Yard } from "./shop/yard/Yard";
import { Waiting } from "./ui/parts";

const Job = lazy(async () => ({ default: (await import("./Job")).Job }));

showScreen();

const queries = new QueryClient({
	defaultOptions: {
		queries: {
			// The database may be away for a while: keep asking, and go on by itself when it is back.
			retry: (times, error) => !(error instanceof Trouble && error.problem.status < 500) && times < 60,
			retryDelay: 2000,
			refetchOnWindowFocus: true,
			staleTime: 2000,
		},
	},
});

const root = document.getElementById("root");
if (root) {
	createRoot(root).render(
		<StrictMode>
			<QueryClientProvider client={queries}>
				<WhoProvider>
					<BrowserRouter>
						<div className="flex h-full flex-col">
							<WaitingActs />
							<div className="min-h-0 grow">
								<Routes>
									<Route path="/" element={<Yard />} />
									<Route
										path="/jobs/:job/:stage"
										element={
											<Suspense fallback={<Waiting what="the job" />}>
												<Job />
											</Suspense>
										}
									/>
									<Route path="*" element={<Yard />} />
								</Routes>
							</div>
						</div>
					</BrowserRouter>
				</WhoProvider>
			</QueryClientProvider>
		</StrictMode>,
	);
}
