<a href="/" class="flex min-h-[24px] items-center gap-1.5 font-extrabold" aria-label="Hillock, all projects">
	<svg viewBox="0 0 32 32" class="size-5" aria-hidden="true">
		<path d="M2 25C9 25 9 8 16 8s7 17 14 17Z" fill="var(--moss)" />
		<path d="M2 25C9 25 9 8 16 8s7 17 14 17" fill="none" stroke="var(--ink)" stroke-width="2" />
	</svg>
	<span class="text-base leading-none">Hillock</span>
</a>
