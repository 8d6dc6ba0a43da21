import { useSettings } from "../../api/settings";
import { NumberField } from "../../readings/NumberField";
import { Choice, Sheet } from "../../ui/parts";

const FIGURES = [
	["printer_margin_mm", "Blank along each edge of a roll, mm", "what the printer does not reach"],
	["panel_step_mm", "Joins are tried every, mm", "finer takes longer and gains little"],
	["turn_in_mm", "Turned in at a gap, mm", "film past a gap at which a print is parted"],
	["cut_gap_mm", "Space between pieces on a roll, mm", "room for the knife"],
	["weeding_margin_mm", "Weeding box off the letters, mm", "cut round each line of lettering"],
	["least_ppi", "Fewest pixels to the inch", "a picture with fewer is told to look coarse"],
	["tacky_minutes", "Promoter is tacky after, min", "10 by one school, a couple by the other"],
	["promoter_ml_per_m", "Promoter for a metre of edge, ml", "a band along every edge"],
	["sealer_ml_per_m", "Edge sealer for a metre of edge, ml", "all round film on hulls"],
	["metres_per_blade", "Metres that one blade cuts", "then it is snapped"],
	["wipes_per_m2", "Wipes for a square metre", "of what film goes on"],
] as const;

/** The shop's figures for printing and cutting. */
export function CutFigures({ onDone }: { onDone: () => void }) {
	const { settings, save } = useSettings();
	return (
		<Sheet open onOpenChange={(o) => !o && onDone()} title="Figures for printing and cutting">
			<p className="mb-3">
				They are Windrift’s own until the shop changes them: printers and cutters differ.
			</p>
			<div className="grid grid-cols-[minmax(0,1fr)] gap-3 @md:grid-cols-2">
				{settings &&
					FIGURES.map(([key, label, why]) => (
						<div key={key}>
							<NumberField
								label={label}
								value={Math.round(Number(settings[key] ?? 0) * 100) / 100}
								whole={false}
								onCommit={(n) => save({ [key]: n })}
							/>
							<p className="text-soft">{why}</p>
						</div>
					))}
				{settings && (
					<>
						<Choice
							label="Blades on the vehicle"
							value={settings.blades ?? "tape"}
							options={[
								{ value: "tape", text: "none on paint: cutting tape" },
								{ value: "guarded", text: "a guarded or very light blade" },
							]}
							onChange={(blades) => void save({ blades })}
						/>
						<Choice
							label="Where vehicles stand"
							value={settings.climate ?? "mild"}
							options={[
								{ value: "mild", text: "mild country" },
								{ value: "sunny", text: "hot summers and much sun" },
								{ value: "harsh", text: "desert, tropics or mountains" },
							]}
							onChange={(climate) => void save({ climate })}
						/>
						<Choice
							label="Latex and UV prints"
							value={settings.every_ink_waits ? "wait" : "at_once"}
							options={[
								{ value: "at_once", text: "are laminated at once" },
								{ value: "wait", text: "wait 24 h like all" },
							]}
							onChange={(w) => void save({ every_ink_waits: w === "wait" })}
						/>
					</>
				)}
			</div>
		</Sheet>
	);
}
