import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import { type Schemas, sendFile, told } from "../../api/client";
import { stagePath } from "../../job/stages";
import { FileButton } from "../../ui/FileButton";
import { TroubleNote } from "../../ui/parts";

/** Takes in a job that another Windrift wrote as one file. */
export function TakeIn() {
	const cache = useQueryClient();
	const [taken, setTaken] = useState<Schemas["TakenIn"] | null>(null);
	const [wrong, setWrong] = useState<string | null>(null);
	const [busy, setBusy] = useState(false);
	const take = async (file: File | undefined) => {
		if (!file || busy) return;
		setBusy(true);
		setTaken(null);
		setWrong(null);
		try {
			setTaken(await sendFile<Schemas["TakenIn"]>("/api/bundles", file));
			await cache.invalidateQueries();
		} catch (error) {
			setWrong(told(error));
		} finally {
			setBusy(false);
		}
	};
	return (
		<div className="flex flex-col gap-2 py-2">
			<FileButton accept=".zip,application/zip" onFile={(file) => void take(file)}>
				{busy ? "Taking it in…" : "Take in a job bundle from another shop"}
			</FileButton>
			{taken && (
				<p role="status">
					✓ Taken in whole:{" "}
					<Link to={stagePath(taken.job, "look_over")} className="font-bold underline">
						{taken.title}
					</Link>
				</p>
			)}
			{wrong && <TroubleNote>{wrong}</TroubleNote>}
		</div>
	);
}
