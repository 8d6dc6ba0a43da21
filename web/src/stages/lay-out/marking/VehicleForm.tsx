import { useQuery } from "@tanstack/react-query";
import { ask, client, type Schemas } from "../../../api/client";
import { LengthField } from "../../../readings/LengthField";
import { TextField } from "../../../readings/TextField";
import { Choice } from "../../../ui/parts";
import type { Vehicle, View } from "./types";

const CATEGORIES = ["?", "M1", "M2", "M3", "N1", "N2", "N3", "O1", "O2", "O3", "O4"] as const;
const KINDS: { value: Schemas["MarkedKind"]; text: string }[] = [
	{ value: "trailer", text: "trailer" },
	{ value: "tractor", text: "truck tractor" },
	{ value: "truck", text: "truck" },
	{ value: "bus", text: "bus" },
	{ value: "boat_trailer", text: "boat's trailer" },
	{ value: "equipment", text: "equipment" },
];
const FLAGS: [keyof Schemas["MarkedVehicle"], string, Schemas["RuleSet"][]][] = [
	["living_or_office", "used only for living or as an office", ["united_states_new", "united_states_in_use"]],
	["pole_trailer", "a pole trailer", ["united_states_in_use"]],
	["driveaway", "being delivered on its own wheels", ["united_states_in_use"]],
	[
		"open_rear",
		"a container chassis, or a platform without bulkhead",
		["united_states_new", "united_states_in_use"],
	],
	["incomplete_or_tractor", "chassis-cab, incomplete, or tractor for semitrailers", ["unece"]],
	["line_only", "its shape makes a contour impossible: a line", ["unece"]],
];

/** The vehicle as the rules see it: what is not known is left empty. */
export function VehicleForm({
	view,
	save,
	tell,
}: {
	view: View;
	save: (v: Vehicle) => Promise<unknown>;
	/** Tells what is wrong where nothing is typed. */
	tell: (work: Promise<unknown>) => Promise<boolean>;
}) {
	const rules = useQuery({ queryKey: ["rules"], queryFn: () => ask(client.GET("/api/rules")) });
	const now: Vehicle = view.vehicle ?? view.suggested;
	const { vehicle } = now;
	const settle = (part: Partial<Schemas["MarkedVehicle"]>) =>
		save({ ...now, vehicle: { ...vehicle, ...part } });
	const typed = (text: string) => (text.trim() ? text : null);
	return (
		<section
			aria-label="The vehicle"
			className="grid grid-cols-[minmax(0,1fr)] content-start gap-3 rounded bg-paper p-4 @md:grid-cols-2"
		>
			<h3 className="font-bold text-xl @md:col-span-2">The vehicle</h3>
			<Choice
				label="Rules"
				value={now.set}
				options={(rules.data?.sets ?? []).map((r) => ({
					value: r.set,
					text: r.name.split(" (")[0] ?? r.name,
				}))}
				onChange={(set) => tell(save({ ...now, set }))}
			/>
			<Choice
				label="Vehicle"
				value={vehicle.kind}
				options={KINDS}
				onChange={(kind) => void tell(settle({ kind }))}
			/>
			{now.set === "unece" && (
				<Choice
					label="Category"
					value={vehicle.category ?? "?"}
					options={CATEGORIES.map((c) => ({ value: c, text: c === "?" ? "not known" : c }))}
					onChange={(c) => void tell(settle({ category: c === "?" ? null : c }))}
				/>
			)}
			<LengthField
				label="Overall width"
				printed={view.vehicle_printed["/vehicle/width_mm"]}
				onCommit={(text) => settle({ width_mm: typed(text) })}
			/>
			{now.set === "unece" && (
				<LengthField
					label="Overall length"
					printed={view.vehicle_printed["/vehicle/length_mm"]}
					onCommit={(text) => settle({ length_mm: typed(text) })}
				/>
			)}
			<TextField
				label="Weight rating"
				value={vehicle.mass?.typed ?? ""}
				hint="As on the plate: 26,000 lb, 12,000 kg, 12 t."
				onCommit={async (text) => {
					await settle({ mass: (text.trim() || null) as unknown as Schemas["Mass"] });
				}}
			/>
			<TextField
				label="Built"
				value={vehicle.built ?? ""}
				hint="Month and year, or the year alone."
				onCommit={async (text) => {
					await settle({ built: text.trim() || null });
				}}
			/>
			<div className="grid @md:col-span-2">
				{FLAGS.filter(([, , sets]) => sets.includes(now.set)).map(([key, text]) => (
					<label key={key} className="flex min-h-11 items-center gap-3">
						<input
							type="checkbox"
							className="size-6"
							checked={vehicle[key] === true}
							onChange={(e) => void tell(settle({ [key]: e.target.checked }))}
						/>
						{text}
					</label>
				))}
			</div>
		</section>
	);
}
