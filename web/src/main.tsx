import "@fontsource-variable/overpass";
import "@fontsource/b612-mono/400.css";
import "@fontsource/b612-mono/700.css";
import "./styles.css";
import { notifyManager, QueryClientProvider } from "@tanstack/react-query";
import { StrictMode } from "react";
import { createRoot } from "react-dom/client";
import { BrowserRouter, Route, Routes } from "react-router";
import { Trouble } from "./api/client";
import { Shown } from "./api/shown";
import { showScreen } from "./job/Screen";
import { WhoProvider } from "./job/Who";
import { beReadyForNoSignal } from "./offline/signal";
import { Door } from "./shop/door/Door";
import { WaitingActs } from "./shop/WaitingActs";
import { Yard } from "./shop/yard/Yard";
import { Broken } from "./ui/Broken";
import { fetched } from "./ui/fetched";

const Shelf = fetched(async () => (await import("./shop/shelf/Shelf")).Shelf, "the shelf");
const ComesOff = fetched(
	async () => (await import("./shop/comes-off/ComesOff")).ComesOff,
	"what comes off by when",
);
const Shared = fetched(async () => (await import("./shop/shared/Shared")).Shared, "the page");
const Job = fetched(async () => (await import("./Job")).Job, "the job");

showScreen();
void beReadyForNoSignal();

// What the server answered shows before the act that waited for it goes out of the outbox: a timer in between shows the state of before for a moment,
// and a second tap within it would do again what was done.
notifyManager.setScheduler(queueMicrotask);

const queries = new Shown({
	defaultOptions: {
		// Without a signal what is kept on the device answers; a browser that thinks it has none is asked all the same.
		mutations: { networkMode: "always" },
		queries: {
			networkMode: "always",
			// The database may be away for a while: keep asking, and go on by itself when it is back.
			retry: (times, error) => !(error instanceof Trouble && error.problem.status < 500) && times < 60,
			retryDelay: 2000,
			refetchOnWindowFocus: true,
			staleTime: 2000,
		},
	},
});

/** The shop, behind its door. */
function Within() {
	return (
		<Door>
			<div className="flex h-full flex-col">
				<WaitingActs />
				<div className="min-h-0 grow">
					<Broken>
						<Routes>
							<Route path="/" element={<Yard />} />
							<Route path="/shelf" element={<Shelf />} />
							<Route path="/comes-off" element={<ComesOff />} />
							<Route path="/jobs/:job/:stage" element={<Job />} />
							<Route path="*" element={<Yard />} />
						</Routes>
					</Broken>
				</div>
			</div>
		</Door>
	);
}

const root = document.getElementById("root");
if (root) {
	createRoot(root).render(
		<StrictMode>
			<QueryClientProvider client={queries}>
				<WhoProvider>
					<BrowserRouter>
						<Routes>
							<Route path="/shared/:token" element={<Shared />} />
							<Route path="*" element={<Within />} />
						</Routes>
					</BrowserRouter>
				</WhoProvider>
			</QueryClientProvider>
		</StrictMode>,
	);
}
