/** `npm run screenshots`: a picture of each main view from the demo data, into docs/screenshots. Build first. */
import { chromium } from '@playwright/test';
import { spawn } from 'node:child_process';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { findChromium, root } from './setup.mjs';
import { CHROMIUM_ARGS } from './chromium-args.mjs';
import { tour } from './tour.mjs';

const data = mkdtempSync(join(tmpdir(), 'hillock-shots-'));
const server = spawn(process.execPath, ['bin/hillock.js', 'demo', '--port', '0', '--data', data], {
	cwd: root,
	stdio: ['ignore', 'pipe', 'inherit'],
});
const address = await new Promise((resolve) =>
	server.stdout.on('data', (chunk) => resolve(/http:\S+/.exec(String(chunk))[0])),
);
const browser = await chromium.launch({
	executablePath: findChromium(),
	args: CHROMIUM_ARGS,
});

async function shoot(name, steps, options = {}) {
	const page = await browser.newPage({
		viewport: { width: 1280, height: 800 },
		timezoneId: 'UTC',
		...options,
	});
	await page.addInitScript(() => localStorage.setItem('hillock-guide', 'done'));
	await page.goto(address);
	await steps(page);
	await page.mouse.move(640, 795);
	await page.waitForTimeout(900);
	await page.screenshot({ path: `${root}/docs/screenshots/${name}.png` });
	await page.close();
}
async function open(page, project, clip) {
	await page.getByRole('link', { name: project }).click();
	await page.locator('[data-lanes-canvas]').waitFor();
	const menu = page.getByRole('button', { name: /^clip: / });
	if (!(await menu.textContent()).includes(clip)) {
		await menu.click();
		await page.getByRole('menuitem', { name: clip }).click();
	}
	await page.waitForTimeout(600);
}
async function frame(page, number) {
	const field = page.getByRole('textbox', { name: 'frame at the playhead' });
	await field.click();
	await field.fill(String(number));
	await field.press('Enter');
	await field.press('Escape');
}

try {
	await shoot('projects', async () => {});
	await shoot('compose', async (page) => {
		await open(page, 'Quay', 'sack drop');
		await frame(page, 26);
		await page.getByRole('button', { name: 'mail sack translation y: key after' }).click();
		await page.keyboard.press('l');
		await page.keyboard.press('8');
		await frame(page, 29);
	});
	await shoot(
		'compose-night',
		async (page) => {
			await open(page, 'Quay', 'pelican hop');
			await page.getByRole('button', { name: 'perspective' }).click();
			await frame(page, 9);
			await page.getByRole('button', { name: 'part pelican', exact: true }).click();
		},
		{ colorScheme: 'dark' },
	);
	await shoot('compose-interface', async (page) => {
		await open(page, 'Parcel slip', 'gauge settles');
		await frame(page, 22);
		await page.getByRole('button', { name: 'needle rotation z: key before' }).click();
		await page.keyboard.press('l');
		await frame(page, 30);
	});
	await shoot('compose-part', async (page) => {
		await open(page, 'Parcel slip', 'stamp press');
		await frame(page, 22);
		await page.getByRole('button', { name: 'part stamp ring', exact: true }).click();
		await page.getByRole('button', { name: 'fit selection' }).click();
	});
	await shoot('compose-formula', async (page) => {
		await open(page, 'Quay', 'ferry crossing');
		await frame(page, 75);
		await page.getByRole('button', { name: /^rotation z =/ }).click();
		await page.keyboard.press('9');
	});
	await shoot('compose-seam', async (page) => {
		await open(page, 'Quay', 'kelp sway');
		await frame(page, 90);
		const value = page.getByRole('textbox', { name: 'kelp 3 rotation z value' });
		await value.click();
		await value.fill('2');
		await value.press('Enter');
		await value.press('Escape');
		await page.getByRole('button', { name: 'Seam', exact: true }).click();
	});
	await shoot('compose-motions', async (page) => {
		await open(page, 'Quay', 'pelican hop');
		await page.getByRole('button', { name: 'part pelican', exact: true }).click();
		await page.getByRole('button', { name: 'Motions', exact: true }).click();
		await page.getByRole('button', { name: 'swing', exact: true }).click();
		await page.waitForTimeout(500);
	});
	await shoot('guide', async (page) => {
		await open(page, 'Quay', 'sack drop');
		await page.keyboard.press('F1');
		await page.getByRole('button', { name: 'Shape', exact: true }).click();
	});
	await shoot('rehearse', async (page) => {
		await open(page, 'Quay', 'sack drop');
		await page.getByRole('link', { name: 'Rehearse' }).click();
		await page.locator('[data-playing]').filter({ hasText: 'kelp sway' }).waitFor();
		await page.getByRole('slider', { name: 'fog' }).fill('0.6');
		await page.getByRole('button', { name: 'try: crane arm is tapped' }).click();
		await page.getByRole('button', { name: 'try: pelican is tapped' }).click();
		await page.locator('[data-playing]').filter({ hasText: 'sack drop' }).waitFor();
	});
	await shoot('rehearse-blends', async (page) => {
		await open(page, 'Quay', 'sack drop');
		await page.getByRole('link', { name: 'Rehearse' }).click();
		await page.locator('[data-playing]').filter({ hasText: 'kelp sway' }).waitFor();
		await page.getByRole('tab', { name: 'Blends' }).click();
		await page.getByRole('button', { name: 'sack drop to crane swing' }).click();
	});
	await shoot('ship', async (page) => {
		await open(page, 'Quay', 'sack drop');
		await page.getByRole('link', { name: 'Ship' }).click();
		await page.getByRole('button', { name: 'Export glTF' }).click();
		await page.getByText('the file, read by').waitFor();
		await page.getByRole('slider', { name: 'time in the clip' }).fill('41000');
		await page.getByRole('radio', { name: '×100' }).check();
		await page.locator('[data-stage-canvas][data-still]').waitFor();
	});
	writeFileSync(`${root}/docs/screenshots/tour.gif`, await tour(browser, address, open));
	await shoot('ship-film', async (page) => {
		await open(page, 'Parcel slip', 'slip arrives');
		await page.getByRole('link', { name: 'Ship' }).click();
		await page.getByRole('radio', { name: /^Film or pictures/ }).check();
		await page.getByRole('combobox', { name: 'kind of the film' }).selectOption('sheet');
		await page.getByRole('textbox', { name: 'width of the film' }).fill('180');
		await page.getByRole('textbox', { name: 'width of the film' }).press('Enter');
		await page.getByRole('button', { name: 'Make Contact sheet' }).click();
		await page.getByRole('link', { name: /^Download / }).waitFor();
	});
	// Last: a recording makes a project of its own.
	await shoot('compose-record', async (page) => {
		await page.getByLabel('project file').setInputFiles(`${root}/demo/recordings/hook.csv`);
		await page.getByRole('link', { name: /^hook/ }).click();
		await page.locator('[data-lanes-canvas]').waitFor();
		await page.getByRole('button', { name: 'part hook', exact: true }).click();
		await page.getByRole('button', { name: 'Record', exact: true }).click();
		await page.getByRole('button', { name: 'Clean', exact: true }).click();
		await page.getByRole('checkbox', { name: 'Remove spikes' }).check();
		await page.getByRole('combobox', { name: 'smoothing' }).selectOption('steady');
		await page.getByRole('button', { name: /^Knee/ }).click();
		await page.waitForTimeout(1500);
	});
} finally {
	await browser.close();
	server.kill();
	rmSync(data, { recursive: true, force: true });
}
