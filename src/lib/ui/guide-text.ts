/** The guide as it stands in docs/guide: read, found in, and made into HTML whose links lead to commands and pages. */
import { Marked, type Tokens } from 'marked';
import { GUIDE_PAGES, type GuidePageId } from './guide-pages';

const texts = import.meta.glob<string>('/docs/guide/*-*.md', {
	query: '?raw',
	import: 'default',
	eager: true,
});
const pictures = import.meta.glob<string>('/docs/screenshots/*.png', {
	query: '?url',
	import: 'default',
	eager: true,
});

export interface GuidePage {
	id: GuidePageId;
	title: string;
	text: string;
	html: string;
}

/** The page that a link of another one leads to. */
export function pageOf(href: string): string | undefined {
	return /^\d+-([a-z]+)\.md$/.exec(href)?.[1];
}
/** The command that a link is about. */
export function commandOf(href: string): string | undefined {
	return href.startsWith('command:') ? decodeURIComponent(href.slice('command:'.length)) : undefined;
}

const marked = new Marked({
	renderer: {
		link({ href, tokens }: Tokens.Link): string {
			const inner = this.parser.parseInline(tokens);
			const [command, page] = [commandOf(href), pageOf(href)];
			if (command)
				return `<button type="button" class="guide-link" data-command="${command}">${inner}</button>`;
			if (page) return `<button type="button" class="guide-link" data-page="${page}">${inner}</button>`;
			return inner;
		},
		image({ href, text }: Tokens.Image): string {
			const picture = pictures[href.replace('../', '/docs/')];
			return `<img src="${picture}" alt="${text}" width="1280" height="800" />`;
		},
		codespan({ text }: Tokens.Codespan): string {
			return `<kbd>${text}</kbd>`;
		},
	},
});

export const GUIDE: readonly GuidePage[] = GUIDE_PAGES.map((id) => {
	const [, text] = Object.entries(texts).find(([name]) => name.endsWith(`-${id}.md`))!;
	const title = /^# (.+)$/m.exec(text)![1];
	return { id, title, text, html: marked.parse(text.replace(/^# .+$/m, ''), { async: false }) };
});

/** Pages with all the words, those that have them in the title first. */
export function findPages(search: string): GuidePage[] {
	const words = search.toLowerCase().split(/\s+/).filter(Boolean);
	const has = (text: string) => words.every((word) => text.toLowerCase().includes(word));
	const found = GUIDE.filter(({ text }) => has(text));
	return [...found.filter(({ title }) => has(title)), ...found.filter(({ title }) => !has(title))];
}
