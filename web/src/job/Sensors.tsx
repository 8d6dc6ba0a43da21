import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { ask, client, freshKey, type Schemas, told } from "../api/client";
import { Button, TroubleNote, Waiting } from "../ui/parts";
import { TouchChoice } from "./Floor";
import { SensorPlot } from "./SensorPlot";
import { useOnePress } from "./useOnePress";

/** The shop's sensors and thermometers: made with a key that is shown once, withdrawn from here, and what they read. */
export function Sensors({ bay }: { bay: string }) {
	const cache = useQueryClient();
	const devices = useQuery({ queryKey: ["devices"], queryFn: () => ask(client.GET("/api/devices")) });
	const [name, setName] = useState("");
	const [reads, setReads] = useState<Schemas["Reads"]>("air");
	const [made, setMade] = useState<{ name: string; key: string } | null>(null);
	const [shown, setShown] = useState<string | null>(null);
	const [wrong, setWrong] = useState<string | null>(null);
	const pressed = useOnePress(1500);
	const tell = async (work: () => Promise<unknown>) => {
		try {
			await work();
			setWrong(null);
		} catch (error) {
			setWrong(told(error));
		} finally {
			await cache.invalidateQueries({ queryKey: ["devices"] });
		}
	};
	if (!devices.data) return <Waiting what="the sensors" error={devices.error} />;
	return (
		<div className="flex flex-col gap-3">
			{wrong && <TroubleNote>{wrong}</TroubleNote>}
			{made && (
				<div className="rounded border-2 border-ink bg-paper p-3">
					<p>
						The key of <b>{made.name}</b>. It is shown now and never again; the sensor sends it as Device-Key.
					</p>
					<code className="block break-all font-bold font-reading text-lg" data-testid="device-key">
						{made.key}
					</code>
				</div>
			)}
			<ul className="flex flex-col divide-y divide-line">
				{devices.data.map((d) => (
					<li key={d.id} className="py-2">
						<div className="flex flex-wrap items-center gap-2">
							<span className={`min-w-0 grow ${d.withdrawn ? "text-soft line-through" : ""}`}>
								<b>{d.name}</b>, {d.reads === "heat" ? "a thermometer" : d.bay}, made {d.made}
							</span>
							{d.reads === "air" && (
								<Button className="min-h-14" onClick={() => setShown((s) => (s === d.id ? null : d.id))}>
									{shown === d.id ? "Not now" : "What it read"}
								</Button>
							)}
							{!d.withdrawn && (
								<Button
									className="min-h-14"
									aria-label={`Withdraw ${d.name}`}
									onClick={() =>
										tell(() =>
											ask(client.POST("/api/devices/{id}/withdraw", { params: { path: { id: d.id } } })),
										)
									}
								>
									Withdraw
								</Button>
							)}
						</div>
						{shown === d.id && <SensorPlot device={d.id} />}
					</li>
				))}
				{devices.data.length === 0 && <li>No sensor hangs in any bay yet.</li>}
			</ul>
			<form
				className="flex flex-wrap items-end gap-2"
				onSubmit={(e) => {
					e.preventDefault();
					// A trembling hand makes one key, not two of which one is never seen.
					if (!pressed()) return;
					void tell(async () => {
						const body = { id: freshKey(), bay, name, reads };
						const { key } = await ask(client.POST("/api/devices", { body }));
						setMade({ name, key });
						setName("");
					});
				}}
			>
				<TouchChoice
					label="What it reads"
					value={reads}
					options={[
						{ value: "air", text: `the air of ${bay}` },
						{ value: "heat", text: "film behind the heat" },
					]}
					onChange={(word) => setReads(word as Schemas["Reads"])}
				/>
				<label className="flex min-w-0 grow flex-col gap-1">
					{reads === "air" ? `A sensor in ${bay}, called` : "A thermometer, called"}
					<input
						value={name}
						maxLength={60}
						onChange={(e) => setName(e.target.value)}
						className="h-14 rounded border border-soft bg-paper px-3"
					/>
				</label>
				<Button type="submit" className="min-h-14">
					Make its key
				</Button>
			</form>
			<p className="text-soft">
				Only the lead makes and withdraws keys. What a sensor sends and how stands in the application’s own
				description,{" "}
				<a href="/api/openapi.json" className="underline">
					/api/openapi.json
				</a>
				, under readings and heat-readings.
			</p>
		</div>
	);
}
