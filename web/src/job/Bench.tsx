import { type ReactNode, useEffect, useLayoutEffect, useRef, useState, useSyncExternalStore } from "react";
import { type Drawing, fit } from "../drawing/frame";

/** From this width on there is a bench: picture and work in panes of their own, and the page itself never scrolls. */
const DESK = "(min-width: 1024px) and (min-height: 560px)";
/** Below this the stages are a list under the one at hand. */
const WIDE = "(min-width: 640px)";

function useMedia(query: string) {
	return useSyncExternalStore(
		(told) => {
			const media = matchMedia(query);
			media.addEventListener("change", told);
			return () => media.removeEventListener("change", told);
		},
		() => matchMedia(query).matches,
	);
}

/** Whether the screen is a desk's, or a tablet's lying down. */
export const useDesk = () => useMedia(DESK);

/** Whether the nine stages find room beside each other. */
export const useWide = () => useMedia(WIDE);

/** Height that the work keeps under a long side, px. */
const WORK = 304;
/** Share of the width that a picture has where the work stands beside it. */
const BESIDE = 0.5;
/** Room beside the bench, px. */
const EDGE = 24;
/** On a phone the picture stays in sight above the fields; at most this share of the screen. */
const PHONE = 0.36;

/** How the bench is divided: the picture above the work, or beside it where that shows the vehicle larger. */
export function divide(drawing: Drawing, width: number, height: number) {
	const above = Math.max(height - WORK, height * 0.45);
	const beside = { width: width * BESIDE, height };
	const scale = (w: number, h: number) => fit(drawing, w, h).frame.scale;
	const sideways = scale(beside.width, beside.height) > scale(width, above);
	return sideways ? { beside: true, ...beside } : { beside: false, width, height: above };
}

/** The size of an element, followed as it changes. */
function useSize() {
	const ref = useRef<HTMLElement>(null);
	const [size, setSize] = useState({ width: 0, height: 0 });
	useLayoutEffect(() => {
		const element = ref.current;
		if (!element) return;
		const read = () => setSize({ width: element.clientWidth, height: element.clientHeight });
		const observer = new ResizeObserver(read);
		observer.observe(element);
		read();
		return () => observer.disconnect();
	}, []);
	return [ref, size] as const;
}

/** Where what had the focus is taken away, the focus goes to the work, never to the page. */
function useFocusKept() {
	const work = useRef<HTMLDivElement>(null);
	useEffect(() => {
		let last: Element | null = null;
		const seen = (e: FocusEvent) => {
			last = e.target as Element;
		};
		const gone = () => {
			if (last && !last.isConnected && document.activeElement === document.body) {
				last = null;
				work.current?.focus({ preventScroll: true });
			}
		};
		const observer = new MutationObserver(gone);
		observer.observe(document.body, { childList: true, subtree: true });
		addEventListener("focusin", seen);
		return () => {
			observer.disconnect();
			removeEventListener("focusin", seen);
		};
	}, []);
	return work;
}

/**
 * The bench that the stages stand on. The picture fills the width, or half of it for what is tall, and never leaves; what is worked at
 * scrolls in its own pane; the next move stands below both and covers nothing. On a smaller screen the page scrolls under the picture.
 */
export function Bench({
	drawing,
	picture,
	children,
	bar,
}: {
	drawing: Drawing;
	/** Draws the picture, at most so high, px. */
	picture: (height: number) => ReactNode;
	children: ReactNode;
	bar: ReactNode;
}) {
	const [ref, { width, height }] = useSize();
	const work = useFocusKept();
	const atDesk = useDesk();
	const inner = width - 2 * EDGE;
	const part = divide(drawing, Math.max(inner, 300), Math.max(height - 8, 300));
	if (!atDesk) {
		const high = Math.min(360, Math.max(150, innerHeight * PHONE));
		return (
			<>
				<main ref={ref} className="flex min-w-0 grow flex-col px-4 pb-4 sm:px-6">
					<div data-testid="bench-picture" className="sticky top-0 z-10 bg-liner pb-1">
						{width > 0 && picture(high)}
					</div>
					<div ref={work} tabIndex={-1} data-testid="bench-work" className="@container min-w-0 outline-none">
						{children}
					</div>
				</main>
				{bar}
			</>
		);
	}
	return (
		<>
			<main ref={ref} className={`flex min-h-0 grow px-6 ${part.beside ? "flex-row gap-5" : "flex-col"}`}>
				<div
					data-testid="bench-picture"
					className="shrink-0"
					style={part.beside ? { width: part.width } : undefined}
				>
					{width > 0 && picture(part.height)}
				</div>
				<div
					ref={work}
					tabIndex={-1}
					data-testid="bench-work"
					className={`@container min-h-0 min-w-0 grow overflow-y-auto outline-none overscroll-contain pb-3 ${part.beside ? "pt-1" : ""}`}
				>
					{children}
				</div>
			</main>
			{bar}
		</>
	);
}
