/** What people do in Compose, as the tests do it: by what is seen, names and places. */
import AxeBuilder from '@axe-core/playwright';
import type { Locator, Page } from '@playwright/test';
import type { Channel, Doc } from '../core/document/types';
import { expect, type TestServer } from './server';

/** Opens a clip by its address; the way there through the list of projects is a test of its own. */
export async function openClip(
	page: Page,
	server: Pick<TestServer, 'address'>,
	project: string,
	clip: string,
): Promise<void> {
	const { clips } = await storedDoc(server, project);
	const { id } = Object.values(clips).find(({ name }) => name === clip)!;
	await page.goto(`${server.address}/p/${await projectId(server, project)}/compose/${id}`);
	await expect(page.getByRole('button', { name: /^clip: / })).toContainText(clip);
	// The lanes have drawn.
	await expect(page.locator('[data-lanes-canvas]')).toBeVisible();
}

export async function projectId(server: Pick<TestServer, 'address'>, name: string): Promise<string> {
	const { projects } = (await (await fetch(`${server.address}/api/projects`)).json()) as {
		projects: { id: string; name: string }[];
	};
	return projects.find((project) => project.name === name)!.id;
}

/** The document as the server has it. */
export async function storedDoc(server: Pick<TestServer, 'address'>, name: string): Promise<Doc> {
	const id = await projectId(server, name);
	return ((await (await fetch(`${server.address}/api/projects/${id}`)).json()) as { doc: Doc }).doc;
}

export async function storedChannel(
	server: TestServer,
	project: string,
	id: string,
): Promise<Channel | undefined> {
	return (await storedDoc(server, project)).channels[id];
}

export async function saved(page: Page): Promise<void> {
	await expect(page.locator('[data-save-state="saved"]')).toBeVisible();
}

export function lane(page: Page, name: string): Locator {
	return page.locator(`[data-lane="${name}"]`);
}

export function laneValue(page: Page, name: string): Locator {
	return page.getByRole('textbox', { name: `${name} value` });
}

export async function goToFrame(page: Page, frame: number): Promise<void> {
	const field = page.getByRole('textbox', { name: 'frame at the playhead' });
	await field.click();
	await field.fill(String(frame));
	await field.press('Enter');
	await field.press('Escape');
}

/** Pixels a frame on the ruler, measured from the marks of the playhead. */
export async function frameX(page: Page, frame: number, lastFrame: number): Promise<number> {
	const ruler = (await page.getByRole('slider', { name: 'playhead' }).boundingBox())!;
	const margin = 14;
	return ruler.x + margin + (frame / lastFrame) * (ruler.width - 2 * margin);
}

/** The place of the one picked key that the overlay shows. */
export async function pickedKeyPlace(page: Page): Promise<{ x: number; y: number }> {
	const box = (await page.locator('[data-key-mark]').first().boundingBox())!;
	return { x: box.x + box.width / 2, y: box.y + box.height / 2 };
}

/** Writes a colour into a field of colours, as text. */
export async function writeColour(page: Page, label: string, hex: string): Promise<void> {
	await page.getByRole('button', { name: label, exact: true }).click();
	const field = page.getByRole('textbox', { name: `${label} in hexadecimal` });
	await field.fill(hex);
	await field.press('Enter');
	await page.keyboard.press('Escape');
	await expect(field).toBeHidden();
}

/** What axe finds wrong: of the whole page, or of what has opened over it; or in its colours alone. */
export async function axeFindings(page: Page, over = false, coloursOnly = false): Promise<string[]> {
	// There are no frames within the page, so nothing has to be put together in a page of its own.
	const axe = new AxeBuilder({ page }).setLegacyMode();
	if (over) axe.include('#over');
	if (coloursOnly) axe.withRules(['color-contrast']);
	const { violations } = await axe.analyze();
	return violations.map(({ id, nodes }) => `${id}: ${nodes[0].html.slice(0, 160)}`);
}

/** What axe finds by day, and in the colours of the night: all else is the same in both. */
export async function axeByDayAndNight(page: Page, over = false): Promise<string[]> {
	const findings = await axeFindings(page, over);
	await page.emulateMedia({ colorScheme: 'dark' });
	findings.push(...(await axeFindings(page, over, true)).map((finding) => `night: ${finding}`));
	await page.emulateMedia({ colorScheme: 'light' });
	return findings;
}
