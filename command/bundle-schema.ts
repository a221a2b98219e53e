/** Writes the schema of bundles as it is published. Run with tsx from the project's folder. */
import { writeFileSync } from 'node:fs';
import { toJsonSchema } from '@valibot/to-json-schema';
import { bundleSchema } from '../src/core/bundle/bundle.ts';

const schema = toJsonSchema(bundleSchema, { errorMode: 'ignore', typeMode: 'input' });
writeFileSync('docs/bundle.schema.json', `${JSON.stringify(schema, null, '\t')}\n`);
