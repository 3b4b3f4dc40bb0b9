/** Light or night: the system's choice, or the person's own, kept in the browser. */
import { keep, readKept } from './kept';

export type Theme = 'system' | 'light' | 'night';

class ThemeChoice {
	value = $state<Theme>('system');

	/** Takes up the kept choice; call it in the browser. */
	start(): void {
		const kept = readKept('theme');
		if (kept === 'light' || kept === 'night') this.set(kept);
	}

	set(theme: Theme): void {
		this.value = theme;
		if (theme === 'system') delete document.documentElement.dataset.theme;
		else document.documentElement.dataset.theme = theme;
		keep('theme', theme);
	}

	toggle(): void {
		const dark =
			this.value === 'night' ||
			(this.value === 'system' && matchMedia('(prefers-color-scheme: dark)').matches);
		this.set(dark ? 'light' : 'night');
	}
}

export const theme = new ThemeChoice();
