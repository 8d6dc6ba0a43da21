import { useState } from "react";
import { Button } from "../../ui/parts";

/** Takes something off the shelf, for good: asked once more, so that a trembling hand takes nothing. */
export function OffTheShelf({ what, onTake }: { what: string; onTake: () => void }) {
	const [asked, setAsked] = useState(false);
	if (!asked) return <Button onClick={() => setAsked(true)}>Take it off the shelf</Button>;
	return (
		<span className="flex flex-wrap items-center gap-2">
			<Button onClick={() => setAsked(false)}>Leave it there</Button>
			<Button look="trouble" onClick={onTake}>
				Take {what} off, for good
			</Button>
		</span>
	);
}
