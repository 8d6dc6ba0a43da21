import { DropdownMenu } from "radix-ui";
import { useId, useState } from "react";
import { ask, client, type Schemas, told } from "../../api/client";
import type { Editing } from "../../api/queries";
import { Button, Sheet, TroubleNote } from "../../ui/parts";
import { KitFile } from "./KitFile";
import { addFirst, type Spec } from "./pieces";
import { StripeRun } from "./StripeRun";

const MARKS = {
	boat_number: { name: "Small-craft number", words: "OY 4471 KB", hint: "Letters, number, letters." },
	vessel_name: {
		name: "Vessel name and hailing port",
		words: "SALT MEADOW\nTERNHAVEN XY",
		hint: "The name on the first line, place and state on the second.",
	},
	carrier_mark: {
		name: "Carrier name and number",
		words: "HARBOUR BAY FREIGHT\nUSDOT 0000000",
		hint: "The name, then USDOT and the number.",
	},
} as const;
type Mark = keyof typeof MARKS;

/** Adds a piece of any kind to a side. */
export function AddPiece({
	side,
	editing,
	onAdded,
	guard,
}: {
	side: Schemas["SideView"];
	editing: Editing;
	onAdded: (id: string) => void;
	guard: (work: () => Promise<unknown>) => Promise<void>;
}) {
	const [kit, setKit] = useState(false);
	const [run, setRun] = useState(false);
	const [mark, setMark] = useState<Mark | null>(null);
	const add = (kind: Schemas["FirstKind"]) =>
		guard(async () => onAdded((await addFirst(side.id, kind, editing)).id));
	return (
		<>
			<Button onClick={() => add("lettering")}>Add lettering</Button>
			<DropdownMenu.Root>
				<DropdownMenu.Trigger asChild>
					<Button>Add something else ▾</Button>
				</DropdownMenu.Trigger>
				<DropdownMenu.Portal>
					<DropdownMenu.Content
						align="start"
						className="z-50 grid min-w-64 rounded border border-soft bg-paper p-1 shadow-lg"
					>
						<Item onSelect={() => add("stripe")}>A stripe</Item>
						<Item onSelect={() => setRun(true)}>A stripe over several parts</Item>
						<Item onSelect={() => add("section")}>A section between film that stays</Item>
						<Item onSelect={() => add("panel")}>A printed panel</Item>
						<Item onSelect={() => setKit(true)}>A kit or drawing from a file</Item>
						{(Object.keys(MARKS) as Mark[]).map((m) => (
							<Item key={m} onSelect={() => setMark(m)}>
								{MARKS[m].name}
							</Item>
						))}
					</DropdownMenu.Content>
				</DropdownMenu.Portal>
			</DropdownMenu.Root>
			<Sheet open={run} onOpenChange={setRun} title="A stripe over several parts">
				<StripeRun side={side} editing={editing} onLaid={() => setRun(false)} />
			</Sheet>
			<Sheet open={kit} onOpenChange={setKit} title="A kit or drawing from a file" wide>
				<KitFile
					side={side}
					editing={editing}
					onAdded={(id) => {
						setKit(false);
						onAdded(id);
					}}
				/>
			</Sheet>
			<Sheet
				open={mark !== null}
				onOpenChange={(open) => !open && setMark(null)}
				title={mark ? MARKS[mark].name : ""}
			>
				{mark && (
					<RegulatedMark
						key={mark}
						side={side}
						mark={mark}
						onMade={async (spec) => {
							const row = await editing.add("piece", side.id, spec);
							setMark(null);
							onAdded(row.id);
						}}
					/>
				)}
			</Sheet>
		</>
	);
}

const Item = ({ children, onSelect }: { children: string; onSelect: () => void }) => (
	<DropdownMenu.Item
		onSelect={onSelect}
		className="flex min-h-11 cursor-pointer items-center rounded px-3 data-[highlighted]:bg-tape"
	>
		{children}
	</DropdownMenu.Item>
);

function RegulatedMark({
	side,
	mark,
	onMade,
}: {
	side: Schemas["SideView"];
	mark: Mark;
	onMade: (spec: Spec) => Promise<void>;
}) {
	const id = useId();
	const [words, setWords] = useState("");
	const [wrong, setWrong] = useState<string | null>(null);
	const make = async () => {
		try {
			const spec = await ask(
				client.POST("/api/sides/{id}/regulated", {
					params: { path: { id: side.id } },
					body: { regulation: mark, words },
				}),
			);
			await onMade(spec);
		} catch (error) {
			setWrong(told(error));
		}
	};
	return (
		<div className="grid gap-3">
			<label htmlFor={id} className="text-soft">
				What it says
			</label>
			<textarea
				id={id}
				rows={2}
				value={words}
				placeholder={MARKS[mark].words}
				onChange={(e) => setWords(e.target.value)}
				className="rounded border border-soft bg-paper px-3 py-2 text-lg"
			/>
			<p className="text-soft">
				{MARKS[mark].hint} Windrift sets its height, gaps and place and checks it clause by clause. The
				figures are from memory: check them against the text in force.
			</p>
			{wrong && <TroubleNote>{wrong}</TroubleNote>}
			<Button look="next" onClick={make} className="justify-self-start">
				Lay it out
			</Button>
		</div>
	);
}
