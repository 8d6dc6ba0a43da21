import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import { ask, client, freshKey, type Schemas, told } from "../../../api/client";
import { useOnePress } from "../../../job/useOnePress";
import { Button, TroubleNote, Waiting } from "../../../ui/parts";

/** The rolls of the shelf that a side's strips can be cut from. */
export const useTapeRolls = (side: string) =>
	useQuery({
		queryKey: ["marking", side, "tape"],
		queryFn: () => ask(client.GET("/api/sides/{id}/marking/tape", { params: { path: { id: side } } })),
	});

/** Which roll the strips of one tape are cut from: one press takes what they need from it, with its lot. */
export function FromRoll({
	side,
	tape,
	found,
}: {
	side: string;
	tape: string;
	found: ReturnType<typeof useTapeRolls>;
}) {
	const cache = useQueryClient();
	const [wrong, setWrong] = useState<string | null>(null);
	const [again, setAgain] = useState(false);
	const [id, setId] = useState(freshKey);
	const pressed = useOnePress(1000);
	const list = found.data?.lists.find((l) => l.name === tape);
	if (!list) return found.error ? <Waiting what="the rolls" error={found.error} /> : null;
	const cut = async (roll: Schemas["TapeRollView"]) => {
		if (!pressed()) return;
		try {
			const body = { id, tape, roll: roll.id, revision: roll.revision, used_mm: roll.gives?.long.mm ?? 0 };
			const now = await ask(
				client.POST("/api/sides/{id}/marking/tape", { params: { path: { id: side } }, body }),
			);
			cache.setQueryData(["marking", side, "tape"], now);
			setWrong(null);
			setAgain(false);
			setId(freshKey());
			await Promise.all(
				["film", "shelf", "record"].map((key) => cache.invalidateQueries({ queryKey: [key] })),
			);
		} catch (error) {
			setWrong(told(error));
			await cache.invalidateQueries({ queryKey: ["marking", side, "tape"] });
		}
	};
	const standing = list.whole && !again;
	const begun = !list.whole && list.cut.some((c) => !c.changed);
	return (
		<div className="mt-2 rounded border border-line p-3">
			{list.cut.map((cut) => (
				<p key={cut.id} className={cut.changed ? "text-trouble" : ""}>
					<b>
						{cut.changed ? "! Cut for an earlier layout" : "✓ Cut"} from lot {cut.lot}
					</b>
					, {cut.film}: <span className="font-reading">{cut.length.text}</span>
				</p>
			))}
			{standing && (
				<Button className="mt-2" onClick={() => setAgain(true)}>
					Cut it once more
				</Button>
			)}
			{!standing && (
				<>
					<h4 className="font-bold">
						{begun ? "The others from which roll?" : "From which roll?"} It takes{" "}
						<span className="font-reading">{list.long.text}</span>.
					</h4>
					<ul>
						{list.rolls.map((roll) => (
							<li
								key={roll.id}
								aria-label={`Lot ${roll.lot}`}
								className="flex flex-wrap items-center justify-between gap-3 border-line border-t py-2"
							>
								<span className="min-w-0 grow basis-56">
									<b>Lot {roll.lot}</b>, {roll.film}
									{roll.place && `, ${roll.place}`}: <span className="font-reading">{roll.left.text}</span>{" "}
									left
									{roll.why_not && `; ${roll.why_not}`}
									{roll.gives && roll.gives.cuts < roll.gives.of && (
										<>
											; it gives {roll.gives.cuts} of {roll.gives.of} cuts,{" "}
											<span className="font-reading">{roll.gives.long.text}</span>
										</>
									)}
								</span>
								{!roll.why_not && (
									<Button aria-label={`Cut from lot ${roll.lot}`} onClick={() => void cut(roll)}>
										{roll.gives && roll.gives.cuts < roll.gives.of
											? `Cut ${roll.gives.cuts} from it`
											: "Cut from it"}
									</Button>
								)}
							</li>
						))}
					</ul>
					{list.short && (
						<p>
							{list.short}{" "}
							<Link to="/shelf" className="font-bold underline">
								To the shelf
							</Link>
						</p>
					)}
				</>
			)}
			{wrong && <TroubleNote>{wrong}</TroubleNote>}
		</div>
	);
}
