import { useState } from "react";
import type { Schemas } from "../../api/client";
import { useSettings } from "../../api/settings";
import { NumberField } from "../../readings/NumberField";
import { TextField } from "../../readings/TextField";
import { Button, Sheet } from "../../ui/parts";

const WEIGHTS: [keyof Schemas["Weights"], string, string][] = [
	["edge_on_head", "A cut edge on a rivet head", "it lifts there first"],
	["edge_along_line", "A cut edge along a seam", "water gets in under it"],
	["crossed_crease", "A letter across a crease", "film bridges it and pulls off later"],
	["in_zone", "A letter in a recess, hollow or on texture", "it must be formed there"],
	["crossed_line", "A letter across a seam or gap", "it must be cut and turned in"],
	["covered_head", "A rivet head under film", "it must be worked down"],
];

/** The shop's own figures for laying out: what weighs how much, what it can weed, what two sides may differ by. */
export function ShopFigures() {
	const [open, setOpen] = useState(false);
	const { settings, save } = useSettings();
	return (
		<>
			<Button onClick={() => setOpen(true)}>What weighs how much</Button>
			<Sheet open={open} onOpenChange={setOpen} title="The shop's figures for laying out" wide>
				{settings?.weights && (
					<div className="grid gap-4 @lg:grid-cols-2">
						<p className="@lg:col-span-2">
							Points of a spot: fewer are better. Hardware, glass, lamps, plates, labels, vents and exits have
							none: nothing is ever traded against them. The figures are Windrift's own until the shop changes
							them.
						</p>
						{WEIGHTS.map(([key, name, why]) => (
							<div key={key}>
								<NumberField
									label={name}
									value={settings.weights?.[key] ?? 0}
									whole={false}
									onCommit={(points) =>
										save({ weights: { ...(settings.weights as Schemas["Weights"]), [key]: points } })
									}
								/>
								<p className="text-soft">{why}</p>
							</div>
						))}
						{(
							[
								["thinnest_stroke_mm", "Thinnest stroke that is weeded, mm"],
								["smallest_island_mm", "Smallest piece of film that is weeded, mm across"],
								["pair_tolerance_mm", "What two sides may differ by, mm"],
							] as const
						).map(([key, name]) => (
							<NumberField
								key={key}
								label={name}
								value={Math.round(Number(settings[key] ?? 0) * 100) / 100}
								whole={false}
								onCommit={(mm) => save({ [key]: mm })}
							/>
						))}
						<TextField
							label="Time zone of the shop's clock"
							value={settings.zone ?? "UTC"}
							options={Intl.supportedValuesOf("timeZone")}
							onCommit={(zone) => save({ zone })}
							hint="Dates and hours in the record and on paper are told by it."
						/>
					</div>
				)}
			</Sheet>
		</>
	);
}
