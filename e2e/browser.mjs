/** Debian's Chromium, kept quiet: it has nobody to talk to but the server under test. */
export const CHROMIUM = {
	executablePath: "/usr/bin/chromium",
	args: [
		"--no-sandbox",
		"--disable-gpu",
		"--disable-quic",
		"--no-first-run",
		"--disable-background-networking",
		"--disable-component-update",
		"--disable-sync",
	],
};
