/** What is tried: what is wished for, the newest answer, and whether that answer is older than the wish. */
export type Tried<W, A> = { wish: W; answer: A | null; behind: boolean };

/**
 * Tries wishes one after the other: one question is under way at a time, wishes made meanwhile wait, and the newest wins. An answer
 * that comes after the trial has ended is dropped; a failure leaves the wish unanswered, and nothing older is taken for it.
 */
export class Trial<W, A> {
	#now: Tried<W, A> | null = null;
	#listeners = new Set<() => void>();
	#running: Promise<void> | null = null;
	#asked = 0;
	/** Counts the things that were tried: an answer belongs to the one that it was asked for. */
	#thing = 0;

	/** `apart` is the least time between two questions, ms. `wrong` hears what failed, and `null` after each answer. */
	constructor(
		private readonly ask: (wish: W) => Promise<A>,
		private readonly wrong: (error: unknown | null) => void = () => {},
		private readonly apart = 0,
	) {}

	get = () => this.#now;

	subscribe = (tell: () => void) => {
		this.#listeners.add(tell);
		return () => {
			this.#listeners.delete(tell);
		};
	};

	/** Wishes for something; the answer so far stays beside it where it is of the same thing. */
	want(wish: W, sameThing = true) {
		if (!sameThing || !this.#now) this.#thing++;
		this.#change({ wish, answer: sameThing ? (this.#now?.answer ?? null) : null, behind: true });
		this.#running ??= this.#run().finally(() => {
			this.#running = null;
		});
	}

	/** What is wished for with its own answer, once that is there; nothing where it failed or the trial ended. */
	async settled(): Promise<{ wish: W; answer: A } | null> {
		while (this.#running) await this.#running;
		const now = this.#now;
		return now && !now.behind && now.answer !== null ? { wish: now.wish, answer: now.answer } : null;
	}

	/** Ends the trial: nothing is wished for any more. */
	end() {
		this.#change(null);
	}

	#change(next: Tried<W, A> | null) {
		this.#now = next;
		for (const tell of this.#listeners) tell();
	}

	async #run() {
		let failed: W | null = null;
		while (this.#now?.behind && this.#now.wish !== failed) {
			const wait = this.#asked + this.apart - Date.now();
			if (wait > 0) await new Promise((r) => setTimeout(r, wait));
			this.#asked = Date.now();
			const wish: W | undefined = this.#now?.wish;
			if (wish === undefined) return;
			const thing = this.#thing;
			try {
				const answer = await this.ask(wish);
				const now: Tried<W, A> | null = this.#now;
				// Between two wishes for the same thing the older answer is nearer than none.
				if (now && thing === this.#thing) this.#change({ ...now, answer, behind: now.wish !== wish });
				this.wrong(null);
			} catch (error) {
				failed = wish;
				this.wrong(error);
			}
		}
	}
}
