/**
 * What is made of schemas: standalone validators of documents (the pages' Content-Security-Policy forbids
 * `new Function`), and the types of the API.
 */
import { readFileSync, writeFileSync, existsSync } from 'node:fs';
import Ajv from 'ajv/dist/2020.js';
import standaloneCode from 'ajv/dist/standalone/index.js';
import { fileURLToPath } from 'node:url';
import openapiTS, { astToString } from 'openapi-typescript';
import ts from 'typescript';
import { runnerImport } from 'vite';

const root = new URL('../', import.meta.url);
const schema = JSON.parse(readFileSync(new URL('docs/schema/hillock-project.schema.json', root), 'utf8'));
const KINDS = [
	'project',
	'part',
	'clip',
	'channel',
	'formula',
	'cue',
	'blend',
	'savedShape',
	'trigger',
	'layer',
	'mix',
	'rehearsal',
	'profile',
	'motion',
	'take',
	'changeset',
];

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

const write = (name, text) => {
	const file = new URL(name, root);
	if (!existsSync(file) || readFileSync(file, 'utf8') !== text) writeFileSync(file, text);
};
write('core/document/validators.generated.js', code);
write(
	'core/document/validators.generated.d.ts',
	`import type { ErrorObject } from 'ajv';\ntype Validator = ((data: unknown) => boolean) & { errors?: ErrorObject[] | null };\n` +
		Object.keys(names)
			.map((name) => `export declare const ${name}: Validator;`)
			.join('\n') +
		'\n',
);

const at = (path) => fileURLToPath(new URL(path, root));
const { module } = await runnerImport(at('src/lib/api/openapi.ts'), {
	configFile: false,
	logLevel: 'error',
	resolve: { alias: { $core: at('core'), $player: at('player') } },
});
const core = new Map();
const types = await openapiTS(structuredClone(module.openapi), {
	alphabetize: false,
	// A schema that core has a type for is that type.
	transform(schema) {
		const own = schema['x-type'];
		if (!own) return undefined;
		core.set(own.type, own.file);
		return ts.factory.createTypeReferenceNode(own.type);
	},
});
write(
	'src/lib/api/types.generated.d.ts',
	[...core].map(([type, file]) => `import type { ${type} } from '${file}';\n`).join('') + astToString(types),
);
