import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { useNavigate } from "react-router";
import { ask, client, freshKey, type Schemas, setCrew, told } from "../../api/client";
import { once } from "../../api/once";
import { stagePath } from "../../job/stages";
import { useWho } from "../../job/useWho";
import { Button, Choice, TroubleNote } from "../../ui/parts";
import { Field } from "./Field";

const WORDS: { value: Schemas["SideWords"]; text: string }[] = [
	{ value: "street_curb_keep_right", text: "right: street side and curb side" },
	{ value: "street_curb_keep_left", text: "left: curb side and street side" },
	{ value: "near_off_keep_left", text: "left: near side and off side" },
];

/** An empty shop: what it is called, how it talks, and who is there first. */
export function FirstRun() {
	const [name, setName] = useState("");
	const [person, setPerson] = useState("");
	const [passphrase, setPassphrase] = useState("");
	const [words, setWords] = useState<Schemas["SideWords"]>("street_curb_keep_right");
	const [wrong, setWrong] = useState<string | null>(null);
	const [id] = useState(freshKey);
	const { choose } = useWho();
	const cache = useQueryClient();
	const zone = Intl.DateTimeFormat().resolvedOptions().timeZone || "UTC";
	const navigate = useNavigate();
	/** Sets the shop up; with a made-up job to try everything on, where that is wanted. */
	const begin = async (practice: boolean) => {
		try {
			const body = { id, name, person, passphrase, side_words: words, zone };
			const lead = await once(JSON.stringify(["first", body]), () =>
				ask(client.POST("/api/shop/first", { body })),
			);
			choose(lead.id);
			setWrong(null);
			setCrew(lead.id);
			await cache.invalidateQueries();
			if (!practice) return;
			const job = await once(JSON.stringify(["practice", id]), ({ id }) =>
				ask(
					client.POST("/api/jobs", {
						body: {
							id,
							customer: "Practice",
							title: "Practice vehicle",
							vehicle_kind: "box_truck",
							unit: zone.startsWith("America/") ? "inch_sixteenth" : "millimetre",
						},
					}),
				),
			);
			navigate(stagePath(job.id, "look_over"));
		} catch (error) {
			setWrong(told(error));
		}
	};
	return (
		<form
			aria-label="Set the shop up"
			className="mx-auto my-8 grid w-full max-w-xl gap-5 rounded bg-paper p-6"
			onSubmit={(e) => {
				e.preventDefault();
				void begin(false);
			}}
		>
			<h1 className="font-bold text-2xl">Your shop is empty. Set it up.</h1>
			<Field label="The shop is called" value={name} onChange={setName} />
			<Field label="Your name: you lead, others are added after" value={person} onChange={setPerson} />
			<Choice label="Traffic keeps to the" value={words} options={WORDS} onChange={setWords} />
			<Field
				label="Your passphrase: some words, 10 characters or more"
				value={passphrase}
				onChange={setPassphrase}
				secret
				autoComplete="new-password"
			/>
			<p className="text-soft">
				The clock is {zone}. Keep the passphrase: on the machine that Windrift runs on, and only there, it can
				be set anew.
			</p>
			{wrong && <TroubleNote>{wrong}</TroubleNote>}
			<div className="flex flex-wrap gap-3">
				<Button look="next" type="submit" className="text-lg">
					Open the shop
				</Button>
				<Button className="text-lg" onClick={() => void begin(true)}>
					Open it with a practice vehicle
				</Button>
			</div>
		</form>
	);
}
