import { Trouble } from "../client";
import { type Act, type Box, HELD, RECORDED, REFUSALS, type What } from "./act";

/** An act that the server did not take, with the act's id: whoever shows it to the person says so with `leaveOut`. */
export class Refused extends Trouble {
	constructor(
		trouble: Trouble,
		readonly act: string,
	) {
		super(trouble.problem);
	}
}

/** What came of an act: the server's answer, or that it is kept here until it can be sent. */
export type Outcome<T> = { sent: true; answer: T } | { sent: false };

type Waiter = { resolve: (outcome: Outcome<unknown>) => void; reject: (error: unknown) => void };

/** The same act pressed again within this is one press that trembled, ms. */
const TREMBLE = 2000;

/**
 * Everything the floor records goes through here, in the order in which it was recorded, each under its own id, with the person and
 * the hour. An act leaves when the server has it, or when a person has seen why it was refused and answered that.
 */
export class Outbox {
	private waiters = new Map<string, Waiter>();
	private recent = new Map<
		string,
		{ at: number; who: string; kind: What["kind"]; outcome: Promise<Outcome<unknown>> }
	>();
	private draining: Promise<void> | null = null;
	private next: Promise<void> | null = null;

	constructor(
		private readonly box: Box,
		private readonly deliver: (act: Act) => Promise<unknown>,
		private readonly tools: {
			freshKey: () => string;
			now: () => number;
			/** Runs alone among all pages of this browser. */
			alone: (work: () => Promise<void>) => Promise<void>;
			/** Called whenever what waits may have changed. */
			changed: (acts: Act[]) => void;
			/** Called when the server has taken something. */
			sent: () => void;
		},
	) {}

	/** Records; resolves when the server has it, or when it is kept for later. Rejects with a `Refused`. */
	record(what: What, who: string): Promise<Outcome<unknown>> {
		const now = this.tools.now();
		for (const [key, known] of this.recent) if (now - known.at > TREMBLE) this.recent.delete(key);
		const key = sameAct(what, who);
		// Done, taken back and done again is three acts, however quick: only the one before can be the same press.
		for (const [other, known] of this.recent)
			if (other !== key && known.who === who && known.kind === what.kind) this.recent.delete(other);
		const known = key === null ? undefined : this.recent.get(key);
		if (known) return known.outcome;
		const outcome = this.begin({ id: this.tools.freshKey(), at: now, who, what });
		if (key !== null) {
			this.recent.set(key, { at: now, who, kind: what.kind, outcome });
			// A refused one may be pressed again at once, with the same figures.
			outcome.catch(() => this.recent.delete(key));
		}
		return outcome;
	}

	private async begin(act: Omit<Act, "n">): Promise<Outcome<unknown>> {
		this.box.jot(act);
		// A lock or that a piece lies is true once: the same one that still waits is enough.
		if (isOnce(act.what)) {
			const key = sameAct(act.what, act.who);
			const waiting = (await this.box.all()).some(
				(a) => a.id !== act.id && !a.refused && sameAct(a.what, a.who) === key,
			);
			if (waiting) {
				await this.box.remove(act.id);
				this.drain();
				return { sent: false };
			}
		}
		await this.box.add(act);
		const outcome = new Promise<Outcome<unknown>>((resolve, reject) => {
			this.waiters.set(act.id, { resolve, reject });
		});
		this.drain();
		return outcome;
	}

	/** Sends what waits, the oldest first, one after the other. Stops at the first that does not come through. */
	drain(): Promise<void> {
		// What was recorded while one round is under way goes out in the next.
		if (this.draining) {
			this.next ??= this.draining.then(() => {
				this.next = null;
				return this.drain();
			});
			return this.next;
		}
		this.draining = this.tools
			.alone(() => this.drainNow())
			.finally(() => {
				this.draining = null;
			});
		return this.draining;
	}

	private async drainNow() {
		let acts = await this.box.all();
		this.tools.changed(acts);
		const tried = new Set(acts.map((a) => a.id));
		/** Who is not signed in here: what they recorded waits in its order, what others recorded goes on. */
		const absent = new Set<string>();
		for (const act of acts.filter((a) => !a.refused)) {
			if (absent.has(act.who)) continue;
			try {
				const answer = await this.deliver(act);
				await this.box.remove(act.id);
				this.settle(act.id, (w) => w.resolve({ sent: true, answer }));
				this.tools.sent();
			} catch (error) {
				const problem = error instanceof Trouble ? error.problem : undefined;
				if (problem && RECORDED.has(problem.code)) {
					await this.box.remove(act.id);
					this.settle(act.id, (w) => w.reject(error));
					this.tools.sent();
				} else if (problem?.status === HELD) {
					absent.add(act.who);
					if (!act.held) await this.box.put({ ...act, held: true });
				} else if (problem && REFUSALS.has(problem.status)) {
					await this.box.put({ ...act, refused: problem });
					this.settle(act.id, (w) => w.reject(new Refused(error as Trouble, act.id)));
				} else {
					break;
				}
			}
		}
		acts = await this.box.all();
		// Whoever still waits for an answer: it is kept, or another page has sent it, or was told why not.
		for (const id of [...this.waiters.keys()]) {
			const kept = acts.find((a) => a.id === id);
			// Recorded while this round was under way: the next one takes it, and its answer is worth waiting for.
			if (kept && !kept.refused && !tried.has(id)) continue;
			const refused = kept?.refused;
			this.settle(id, (w) =>
				refused ? w.reject(new Refused(new Trouble(refused), id)) : w.resolve({ sent: false }),
			);
		}
		this.tools.changed(acts);
	}

	private settle(id: string, how: (waiter: Waiter) => void) {
		const waiter = this.waiters.get(id);
		this.waiters.delete(id);
		if (waiter) how(waiter);
	}

	/** A refused act is sent once more as it is. */
	async sendAgain(id: string) {
		const act = (await this.box.all()).find((a) => a.id === id);
		if (act) {
			const { refused: _, ...waiting } = act;
			await this.box.put(waiting);
		}
		await this.drain();
	}

	/** A person has seen why an act was refused and lets it go. */
	async leaveOut(id: string) {
		await this.box.remove(id);
		this.tools.changed(await this.box.all());
	}
}

/** What is true once and for all of a piece. */
const isOnce = (what: What) => what.kind === "lock" || (what.kind === "floor" && what.note.what === "laid");

/** What makes two presses one act; nothing for a photo, which nobody takes twice by trembling. */
function sameAct(what: What, who: string): string | null {
	return what.kind === "photo" ? null : `${who} ${JSON.stringify(what)}`;
}
