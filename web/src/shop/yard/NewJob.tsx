import { useQueryClient } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";
import { useNavigate } from "react-router";
import { ask, client, freshKey, type Schemas, Trouble } from "../../api/client";
import { useShop } from "../../api/queries";
import { NameFields, NO_NAMES } from "../../job/JobNames";
import { stagePath } from "../../job/stages";
import { Button, Choice, Sheet, TroubleNote } from "../../ui/parts";
import { OutlinePicture } from "../../ui/ShapePicture";

const UNITS: { value: Schemas["Unit"]; text: string }[] = [
	{ value: "inch_sixteenth", text: "inches to 1/16" },
	{ value: "inch_thirty_second", text: "inches to 1/32" },
	{ value: "millimetre", text: "millimetres" },
];

/** Starts a job: whom it is for, what stands outside, and the tape it is measured with. */
export function NewJob({ open, onOpenChange }: { open: boolean; onOpenChange: (open: boolean) => void }) {
	const shop = useShop();
	const cache = useQueryClient();
	const navigate = useNavigate();
	const key = useRef(freshKey());
	const [names, setNames] = useState(NO_NAMES);
	const [kind, setKind] = useState<Schemas["VehicleKind"]>("box_truck");
	const [unit, setUnit] = useState<Schemas["Unit"]>("inch_sixteenth");
	const [wrong, setWrong] = useState<Trouble | null>(null);
	useEffect(() => {
		if (open) {
			key.current = freshKey();
			setWrong(null);
		}
	}, [open]);

	const start = async () => {
		try {
			const body = { id: key.current, ...names, vehicle_kind: kind, unit };
			const job = await ask(client.POST("/api/jobs", { body }));
			await cache.invalidateQueries({ queryKey: ["jobs"] });
			navigate(stagePath(job.id, "look_over"));
		} catch (error) {
			if (error instanceof Trouble) setWrong(error);
		}
	};
	return (
		<Sheet open={open} onOpenChange={onOpenChange} title="Start a job">
			<form
				className="flex flex-col gap-4"
				onSubmit={(e) => {
					e.preventDefault();
					start();
				}}
			>
				<NameFields names={names} onChange={setNames} titleHint="May stay empty." />
				<Choice
					label="What stands outside?"
					value={kind}
					onChange={setKind}
					options={(shop.data?.vehicle_kinds ?? []).map((k) => ({
						value: k.kind,
						text: k.name,
						picture: <OutlinePicture picture={k.picture} />,
						note: k.sides.length > 2 ? `${k.sides.length} sides` : undefined,
					}))}
				/>
				<Choice label="Which tape?" value={unit} onChange={setUnit} options={UNITS} />
				{wrong && <TroubleNote>{wrong.message}</TroubleNote>}
				<Button look="next" type="submit" className="self-end text-lg">
					Start and measure it
				</Button>
			</form>
		</Sheet>
	);
}
