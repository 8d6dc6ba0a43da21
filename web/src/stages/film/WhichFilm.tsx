import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import { ask, client, type Schemas } from "../../api/client";
import type { Editing } from "../../api/queries";
import { useSaving } from "../../job/Conflict";
import { useTelling } from "../../job/useTelling";
import { Button, Choice, TroubleNote, Waiting } from "../../ui/parts";
import { Swatch } from "../../ui/Swatch";
import { useTyped } from "../../ui/useTyped";

/** No laminate, among names of laminates. */
const BARE = "\u0000";
const WORD = { yes: "suits", with_care: "with care", no: "not here" } as const;

/** The films of the shelf for a piece, the best first, with what speaks for and against each. */
export function WhichFilm({
	side,
	piece,
	editing,
}: {
	side: Schemas["SideView"];
	piece: Schemas["FilmedPiece"];
	editing: Editing;
}) {
	const [years, setYears] = useTyped(`years.${piece.id}`);
	const [removable, setRemovable] = useTyped(`removable.${piece.id}`);
	const [reflective, setReflective] = useTyped(`reflective.${piece.id}`);
	const wanted = {
		years: Number(years) || undefined,
		removable: removable !== "",
		reflective: reflective !== "",
	};
	const films = useQuery({
		queryKey: ["film", "for", piece.id, wanted],
		placeholderData: (before) => before,
		queryFn: () =>
			ask(client.GET("/api/pieces/{id}/films", { params: { path: { id: piece.id }, query: wanted } })),
	});
	const shelf = useQuery({ queryKey: ["shelf"], queryFn: () => ask(client.GET("/api/shelf")) });
	const { wrong, tell } = useTelling();
	const { save, dialog } = useSaving(editing, side.unit);
	const row = side.pieces.find((p) => p.id === piece.id);
	const choose = (id: string | null, laminate: string | null) => {
		const film = shelf.data?.films.find((f) => f.id === id)?.film;
		if (!row || (id && !film)) return;
		const chosen = id && film ? { id, film: { ...film, laminate } } : null;
		const work = { ...(row.spec.work ?? { crew: 1 }), chosen };
		void tell(save({ kind: "piece", id: row.id, revision: row.revision }, row.spec, { ...row.spec, work }));
	};
	if (piece.trouble) return null;
	if (!films.data) return <Waiting what="the films" error={films.error} />;
	const { ranked } = films.data;
	return (
		<>
			<fieldset className="flex flex-wrap items-center gap-x-5 gap-y-2">
				<legend className="sr-only">What is wanted of it</legend>
				<label className="flex min-h-11 items-center gap-2">
					To last
					<input
						aria-label="Years that it is to last"
						inputMode="decimal"
						value={years}
						maxLength={4}
						onChange={(e) => setYears(e.target.value.replace(/[^\d.]/g, ""))}
						className="h-11 w-16 rounded border border-soft bg-paper px-2 font-bold font-reading"
					/>
					years
				</label>
				<label className="flex min-h-11 items-center gap-2">
					<input
						type="checkbox"
						checked={wanted.removable}
						onChange={(e) => setRemovable(e.target.checked ? "yes" : "")}
						className="size-6 accent-spruce"
					/>
					comes off cleanly later
				</label>
				<label className="flex min-h-11 items-center gap-2">
					<input
						type="checkbox"
						checked={wanted.reflective}
						onChange={(e) => setReflective(e.target.checked ? "yes" : "")}
						className="size-6 accent-spruce"
					/>
					shines back
				</label>
			</fieldset>
			{wrong && <TroubleNote>{wrong}</TroubleNote>}
			{ranked.length === 0 && (
				<p className="py-3 text-lg">
					No film is on the shelf.{" "}
					<Link to="/shelf" className="font-bold underline">
						Put one there
					</Link>
					; until then the piece is worked as {films.data.assumed}.
				</p>
			)}
			<ul className="mt-2 grid gap-2 @4xl:grid-cols-2">
				{ranked.map((f) => (
					<li
						key={f.id}
						aria-label={f.name}
						className={`rounded p-3 ${f.suits === "no" ? "border border-line" : "bg-paper"} ${
							f.id === films.data.chosen ? "outline-3 outline-spruce" : ""
						}`}
					>
						<div className="flex items-start justify-between gap-3">
							<div className="flex min-w-0 items-center gap-3">
								<Swatch colour={f.colour} />
								<div className="min-w-0">
									<h3 className="font-bold text-lg leading-tight">{f.name}</h3>
									<p className="text-soft">
										{f.class_name}, {WORD[f.suits]}
									</p>
								</div>
							</div>
							{f.id === films.data.chosen ? (
								<Button
									className="shrink-0 whitespace-nowrap"
									onClick={() => choose(null, null)}
									aria-label={`Do not use ${f.name}`}
								>
									✓ Taken
								</Button>
							) : (
								<Button
									className="shrink-0 whitespace-nowrap"
									look={
										f.suits !== "no" && f.own_colour && f.id === ranked[0]?.id && !films.data.chosen
											? "next"
											: "plain"
									}
									onClick={() => choose(f.id, f.laminates[0]?.name ?? null)}
									disabled={f.suits === "no"}
									aria-label={`Take ${f.name}`}
								>
									Take it
								</Button>
							)}
						</div>
						{f.laminates.length > 0 &&
							(f.id === films.data.chosen ? (
								<div className="mt-2 flex flex-wrap items-end gap-x-4 gap-y-1">
									<Choice
										label="Laminate over it"
										value={f.laminate ?? BARE}
										onChange={(l) => choose(f.id, l === BARE ? null : l)}
										options={[
											...f.laminates.map((l) => ({ value: l.name, text: l.name })),
											{ value: BARE, text: "none" },
										]}
									/>
									<p className="min-w-0 basis-48 grow">
										{f.laminates.map((l) => `${l.name} ${l.figure}`).join(", ")}: {f.laminates_by}.
									</p>
								</div>
							) : (
								<p className="mt-1">
									Laminate <b>{f.laminate}</b>: {f.laminates[0]?.figure}, {f.laminates_by}.
								</p>
							))}
						<ul className="mt-1">
							{f.good.map((g) => (
								<li key={g}>+ {g}</li>
							))}
							{f.bad.map((b) => (
								<li key={b}>− {b}</li>
							))}
						</ul>
					</li>
				))}
			</ul>
			{dialog}
		</>
	);
}
