import { useQueryClient } from "@tanstack/react-query";
import { useId, useState } from "react";
import { type Schemas, sendFile, told } from "../../api/client";
import { once } from "../../api/once";
import { Button, Sheet, TroubleNote } from "../../ui/parts";

/** Adds a typeface of the shop's own; `onAdded` is told its name. */
export function OwnTypeface({ onAdded }: { onAdded: (typeface: string) => void }) {
	const [open, setOpen] = useState(false);
	const [name, setName] = useState("");
	const [file, setFile] = useState<File | null>(null);
	const [wrong, setWrong] = useState<string | null>(null);
	const cache = useQueryClient();
	const id = useId();
	const add = async () => {
		if (!file) {
			setWrong("Choose the typeface's file first.");
			return;
		}
		try {
			const called = name || file.name.replace(/\.[^.]*$/, "");
			const info = await once(JSON.stringify(["typeface", called, file.name, file.size]), ({ id }) => {
				const query = new URLSearchParams({ name: called, id });
				return sendFile<Schemas["TypefaceInfo"]>(`/api/shop/typefaces?${query}`, file);
			});
			await cache.invalidateQueries({ queryKey: ["shop"] });
			setOpen(false);
			setWrong(null);
			onAdded(info.id);
		} catch (error) {
			setWrong(told(error));
		}
	};
	return (
		<>
			<Button onClick={() => setOpen(true)}>Add a typeface</Button>
			<Sheet open={open} onOpenChange={setOpen} title="A typeface of the shop's own">
				<div className="grid gap-3">
					<label className="flex min-w-0 flex-col gap-1">
						<span className="text-soft">TrueType or OpenType file</span>
						<input
							type="file"
							accept=".ttf,.otf"
							onChange={(e) => setFile(e.target.files?.[0] ?? null)}
							className="h-11 rounded border border-soft bg-paper p-2"
						/>
					</label>
					<label htmlFor={id} className="text-soft">
						What the shop calls it
					</label>
					<input
						id={id}
						value={name}
						onChange={(e) => setName(e.target.value)}
						className="h-11 rounded border border-soft bg-paper px-3"
					/>
					<p className="text-soft">
						Only add a typeface that the shop has a licence to cut. Windrift reads what its maker allows from
						the file and refuses one that may not be embedded.
					</p>
					{wrong && <TroubleNote>{wrong}</TroubleNote>}
					<Button look="next" onClick={add} className="justify-self-start">
						Add it
					</Button>
				</div>
			</Sheet>
		</>
	);
}
