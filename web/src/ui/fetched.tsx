import { type ComponentType, useEffect, useState } from "react";
import { Waiting } from "./parts";

/**
 * A part of the application that is fetched when it is first shown, or asked for before. React's own `lazy` holds what follows a fallback
 * back by 300 ms, twice on the way to a stage; this one shows it as soon as it is there. A part that cannot be fetched breaks the page, which
 * says so.
 */
export function fetched<P extends object>(load: () => Promise<ComponentType<P>>, what: string) {
	let there: ComponentType<P> | undefined;
	let asked: Promise<ComponentType<P>> | undefined;
	const fetch = () => {
		asked ??= load().then(
			(part) => {
				there = part;
				return part;
			},
			(error) => {
				// The signal may be back by the next time.
				asked = undefined;
				throw error;
			},
		);
		return asked;
	};
	// biome-ignore lint/correctness/noComponentHookFactories: made once for each part, when the module is read
	function Fetched(props: P) {
		const [Part, setPart] = useState(() => there);
		useEffect(() => {
			if (there) return;
			fetch().then(
				(part) => setPart(() => part),
				(error) =>
					setPart(() => {
						throw error;
					}),
			);
		}, []);
		return Part ? <Part {...props} /> : <Waiting what={what} />;
	}
	/** What goes wrong is told where the part is shown. */
	const ask = () => void fetch().catch(() => {});
	return Object.assign(Fetched, { ask });
}
