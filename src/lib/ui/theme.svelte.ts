/** Light or night: the system's choice, or the person's own, kept in the browser. */
export type Theme = 'system' | 'light' | 'night';

class ThemeChoice {
	value = $state<Theme>('system');

	/** Takes up the kept choice; call it in the browser. */
	start(): void {
		try {
			const kept = localStorage.getItem('hillock-theme');
			if (kept === 'light' || kept === 'night') this.set(kept);
		} catch {
			// Without storage the system decides.
		}
	}

	set(theme: Theme): void {
		this.value = theme;
		if (theme === 'system') delete document.documentElement.dataset.theme;
		else document.documentElement.dataset.theme = theme;
		try {
			localStorage.setItem('hillock-theme', theme);
		} catch {
			// As above.
		}
	}

	toggle(): void {
		const dark =
			this.value === 'night' ||
			(this.value === 'system' && matchMedia('(prefers-color-scheme: dark)').matches);
		this.set(dark ? 'light' : 'night');
	}
}

export const theme = new ThemeChoice();
