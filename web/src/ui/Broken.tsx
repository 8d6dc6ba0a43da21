import { Component, type ReactNode } from "react";
import { Button } from "./parts";

/**
 * A page that could not be drawn says so and offers the way out. Without it the screen would go empty: after the shop's Windrift was renewed, an
 * open page may ask for parts that are not there any more.
 */
export class Broken extends Component<{ children: ReactNode }, { broken: boolean }> {
	override state = { broken: false };

	static getDerivedStateFromError() {
		return { broken: true };
	}

	override render() {
		if (!this.state.broken) return this.props.children;
		return (
			<main role="alert" className="mx-auto flex max-w-xl flex-col items-start gap-4 p-6 text-lg">
				<h1 className="font-bold text-2xl">This page cannot be shown.</h1>
				<p>
					What was kept is safe, and what waits to be sent still waits. Load the page again; if it stays away,
					tell whoever looks after Windrift in your shop.
				</p>
				<Button look="next" onClick={() => location.reload()}>
					Load it again
				</Button>
				<a href="/" className="underline">
					Back to the yard
				</a>
			</main>
		);
	}
}
