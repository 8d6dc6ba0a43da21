import type { Act, Box } from "./act";

/** Acts that the browser does not keep come after those that it does. */
const AFTER_ALL = 1e12;

/**
 * A box that takes what the other one cannot: in a private window, or on a full disk, an act is held by the page itself until it is sent.
 * It is lost with the page, and whoever shows what waits says so.
 */
export class SafeBox implements Box {
	private held: Act[] = [];
	private n = AFTER_ALL;

	constructor(
		private readonly inner: Box,
		/** Told whenever acts are held by the page alone, or none is any more. */
		private readonly tell: (pageAlone: boolean) => void,
	) {}

	jot(act: Omit<Act, "n">) {
		try {
			this.inner.jot(act);
		} catch {
			// A browser that keeps nothing.
		}
	}

	async add(act: Omit<Act, "n">) {
		try {
			await this.inner.add(act);
		} catch {
			this.n += 1;
			this.held.push({ ...act, n: this.n });
			this.tell(true);
		}
	}

	async all() {
		const kept = await this.inner.all().catch(() => []);
		return [...kept, ...this.held];
	}

	async put(act: Act) {
		if (act.n > AFTER_ALL) {
			this.held = this.held.map((a) => (a.n === act.n ? act : a));
			return;
		}
		// What was added stays as it was where there is no room for more: it is looked at again.
		await this.inner.put(act).catch(() => {});
	}

	async remove(id: string) {
		const before = this.held.length;
		this.held = this.held.filter((a) => a.id !== id);
		if (before > 0 && this.held.length === 0) this.tell(false);
		// Held here or there: a jot of it may still stand there.
		await this.inner.remove(id).catch(() => {});
	}
}
