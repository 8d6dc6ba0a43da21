import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { ask, client, type Schemas, told } from "../../api/client";
import { Button, Choice, Sheet, TroubleNote, Waiting } from "../../ui/parts";
import { Field } from "./Field";
import { OffTheShelf } from "./OffTheShelf";
import { useKey } from "./sending";

type View = Schemas["SuppliesView"];
type Standing = View["supplies"][number];
type Kind = Schemas["SupplyKind"];

/** Tapes, liquids, blades and wipes, with how much of each is left. */
export function Supplies() {
	const cache = useQueryClient();
	const shelf = useQuery({ queryKey: ["supplies"], queryFn: () => ask(client.GET("/api/supplies")) });
	const [open, setOpen] = useState<"new" | Standing | null>(null);
	const send = async (call: Promise<View>) => {
		cache.setQueryData(["supplies"], await call);
		await cache.invalidateQueries({ queryKey: ["film"] });
		setOpen((now) => (now === open ? null : now));
	};
	const data = shelf.data;
	return (
		<section aria-label="Tapes, liquids and blades" className="mt-2">
			<div className="flex flex-wrap items-center gap-3">
				<h2 className="mr-auto font-bold text-xl">Tapes, liquids and blades</h2>
				<Button onClick={() => setOpen("new")}>Add one</Button>
			</div>
			{!data && <Waiting what="tapes and liquids" error={shelf.error} />}
			{data?.supplies.length === 0 && (
				<p>None is here yet. What a job needs of them is told under To order all the same.</p>
			)}
			<ul className="mt-2 grid grid-cols-[minmax(0,1fr)] gap-2 sm:grid-cols-2 lg:grid-cols-3">
				{data?.supplies.map((s) => (
					<li key={s.id}>
						<button
							type="button"
							onClick={() => setOpen(s)}
							aria-label={`${s.supply.name}, ${s.left} left`}
							className="flex min-h-14 w-full min-w-0 items-center justify-between gap-3 rounded border border-soft bg-paper px-3 py-1 text-left"
						>
							<span className="min-w-0">
								<b className="block break-words">{s.supply.name}</b>
								<span className="text-soft">
									{s.kind_name}
									{s.width && `, ${s.width.text} wide`}
								</span>
							</span>
							<b className="whitespace-nowrap text-xl">{s.left}</b>
						</button>
					</li>
				))}
			</ul>
			{open && data && (
				<SupplySheet
					key={open === "new" ? "new" : open.id}
					there={open === "new" ? null : open}
					kinds={data.kinds}
					send={send}
					onDone={() => setOpen(null)}
				/>
			)}
		</section>
	);
}

/** One of them: what it is, and what is left. */
function SupplySheet({
	there,
	kinds,
	send,
	onDone,
}: {
	there: Standing | null;
	kinds: View["kinds"];
	send: (call: Promise<View>) => Promise<void>;
	onDone: () => void;
}) {
	const fresh = useKey();
	const id = there?.id ?? fresh;
	const [kind, setKind] = useState<Kind>(there?.supply.kind ?? "masking_tape");
	const [name, setName] = useState(there?.supply.name ?? "");
	const [wide, setWide] = useState(there?.width?.text ?? "");
	const [left, setLeft] = useState(there ? (there.supply.left?.toString() ?? there.left) : "");
	const [wrong, setWrong] = useState<string | null>(null);
	const counted = kinds.find((k) => k.kind === kind)?.counted ?? "length";
	const long = counted === "length" || counted === "area";
	const what = {
		length: "How long is what is left?",
		area: "How long is what is left?",
		volume: "How many ml are left?",
		pieces: "How many are left?",
	};
	const put = async () => {
		if (!long && !/^\d{1,7}([.,]\d{1,2})?$/.test(left.trim())) {
			setWrong(
				counted === "volume"
					? "Type how many millilitres are left, such as 750."
					: "Type how many are left, such as 24.",
			);
			return;
		}
		const number = Number(left.trim().replace(",", "."));
		const supply = {
			kind,
			name: name.trim(),
			width_mm: long ? wide : null,
			left_mm: long ? left : null,
			left: long ? null : number,
		};
		const body = { id, supply };
		const call = there
			? client.PUT("/api/supplies/{id}", {
					params: { path: { id } },
					headers: { "If-Match": `"${there.revision}"` },
					body,
				})
			: client.POST("/api/supplies", { body });
		await send(ask(call)).catch((error) => setWrong(told(error)));
	};
	return (
		<Sheet
			open
			onOpenChange={(o) => !o && onDone()}
			title={there?.supply.name ?? "A tape, a liquid or blades"}
		>
			<form
				className="grid grid-cols-[minmax(0,1fr)] gap-3 @md:grid-cols-2"
				onSubmit={(e) => {
					e.preventDefault();
					void put();
				}}
			>
				<Choice
					label="What is it?"
					value={kind}
					options={kinds.map((k) => ({ value: k.kind, text: k.name }))}
					onChange={setKind}
				/>
				<Field label="What the shop calls it" value={name} onChange={setName} />
				{long && <Field label="How wide?" value={wide} onChange={setWide} />}
				<Field
					numeric
					label={what[counted]}
					value={left}
					onChange={setLeft}
					hint={long ? "50 yd, 180', 9600 mm" : undefined}
				/>
				{wrong && (
					<div className="@md:col-span-2">
						<TroubleNote>{wrong}</TroubleNote>
					</div>
				)}
				<div className="flex flex-wrap items-center justify-between gap-2 @md:col-span-2">
					{there ? (
						<OffTheShelf
							what="it"
							onTake={() =>
								void send(ask(client.DELETE("/api/supplies/{id}", { params: { path: { id } } }))).catch(
									(error) => setWrong(told(error)),
								)
							}
						/>
					) : (
						<span />
					)}
					<Button look="next" type="submit">
						{there ? "Keep it so" : "Put it on the shelf"}
					</Button>
				</div>
			</form>
		</Sheet>
	);
}
