import { createPortal } from "react-dom";
import { marked, pressed, stepped } from "./entry";
import { InchTape } from "./InchTape";
import { Keypad } from "./Keypad";

/**
 * Keys and the drawn inch at the foot of the screen, for a figure that a finger opened in the picture. The field keeps the focus, so that
 * what leaving it does is done once, when it is left.
 */
export function TouchEntry({
	label,
	text,
	onText,
	onKeep,
}: {
	label: string;
	text: string;
	onText: (text: string) => void;
	onKeep: () => void;
}) {
	const key = "h-16 rounded border border-soft bg-paper font-bold font-reading text-xl";
	return createPortal(
		<section
			aria-label={`Keys: ${label}`}
			data-testid="touch-entry"
			onMouseDown={(e) => e.preventDefault()}
			className="fixed inset-x-0 bottom-0 z-40 grid gap-2 border-soft border-t-2 bg-liner p-3 shadow-lg"
		>
			<div className="mx-auto grid w-full max-w-3xl gap-2 sm:grid-cols-[16rem_1fr]">
				<div className="sm:hidden">
					<Keypad wide feet onKey={(k) => onText(pressed(text, k))} />
				</div>
				<div className="max-sm:hidden">
					<Keypad feet onKey={(k) => onText(pressed(text, k))} />
				</div>
				<div className="grid min-w-0 content-start gap-2">
					<InchTape text={text} height={112} onMark={(mark) => onText(marked(text, mark))} />
					<div className="grid grid-cols-[1fr_1fr_2fr] gap-2">
						<button type="button" className={key} onClick={() => onText(stepped(text, -1))}>
							−1/32
						</button>
						<button type="button" className={key} onClick={() => onText(stepped(text, 1))}>
							+1/32
						</button>
						<button
							type="button"
							className="h-16 rounded bg-tape font-bold text-ink text-xl"
							onClick={onKeep}
						>
							Keep it
						</button>
					</div>
				</div>
			</div>
		</section>,
		document.body,
	);
}
