/** Compiles the JSON Schemas to standalone validators: the pages' Content-Security-Policy forbids `new Function`. */
import { mkdirSync, readFileSync, writeFileSync, existsSync } from 'node:fs';
import Ajv from 'ajv/dist/2020.js';
import standaloneCode from 'ajv/dist/standalone/index.js';

const root = new URL('../', import.meta.url);
const schema = JSON.parse(readFileSync(new URL('docs/schema/hillock-project.schema.json', root), 'utf8'));
const KINDS = ['project', 'part', 'clip', 'channel', 'formula', 'cue', 'blend', 'savedShape', 'changeset'];

const ajv = new Ajv.default({
	code: { source: true, esm: true },
	discriminator: true,
	allErrors: false,
	strict: true,
	strictRequired: false,
	strictTypes: false,
	unicodeRegExp: true,
});
ajv.addSchema(schema, 'file');
for (const kind of KINDS) ajv.addSchema({ $ref: `hillock-project#/$defs/${kind}` }, kind);

const names = { file: 'hillock-project', ...Object.fromEntries(KINDS.map((kind) => [kind, kind])) };
let code = standaloneCode.default(ajv, names);

// Ajv asks for its small runtime parts with require(), which is no ES module: they are written in as they are.
code = code.replace(
	/const (\w+) = require\("ajv\/dist\/runtime\/(\w+)"\)\.default;?/g,
	(_, name, part) =>
		`import ${name}_module from "ajv/dist/runtime/${part}.js";const ${name} = ${name}_module.default ?? ${name}_module;`,
);
if (/\brequire\(/.test(code)) throw new Error('the generated validators still call require()');

const out = new URL('core/document/', root);
mkdirSync(out, { recursive: true });
const write = (name, text) => {
	const file = new URL(name, out);
	if (!existsSync(file) || readFileSync(file, 'utf8') !== text) writeFileSync(file, text);
};
write('validators.generated.js', code);
write(
	'validators.generated.d.ts',
	`import type { ErrorObject } from 'ajv';\ntype Validator = ((data: unknown) => boolean) & { errors?: ErrorObject[] | null };\n` +
		Object.keys(names)
			.map((name) => `export declare const ${name}: Validator;`)
			.join('\n') +
		'\n',
);
