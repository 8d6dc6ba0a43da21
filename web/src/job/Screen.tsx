import { useState } from "react";

const KEPT = "windrift.screen";
const SCREENS = [
	["usual", "As usual"],
	["glare", "For glare: black on white, larger"],
	["dark", "For a dark bay"],
] as const;

/** Shows the screen as it was chosen on this machine. */
export function showScreen(screen = localStorage.getItem(KEPT)) {
	document.documentElement.dataset.screen = screen ?? "usual";
}

/** How bright it is where the screen stands. */
export function ScreenChoice() {
	const [screen, setScreen] = useState(() => localStorage.getItem(KEPT) ?? "usual");
	return (
		<div role="radiogroup" aria-label="Screen" className="mb-4 flex flex-wrap gap-2">
			{SCREENS.map(([value, text]) => (
				<button
					key={value}
					type="button"
					role="radio"
					aria-checked={screen === value}
					onClick={() => {
						localStorage.setItem(KEPT, value);
						showScreen(value);
						setScreen(value);
					}}
					className={`min-h-11 rounded px-4 ${screen === value ? "bg-spruce font-bold text-white" : "border border-soft bg-paper"}`}
				>
					{text}
				</button>
			))}
		</div>
	);
}
