// Removes the folders named on the command line, so that a build never keeps a file whose source is gone.
import { rmSync } from 'node:fs';

for (const folder of process.argv.slice(2)) rmSync(folder, { recursive: true, force: true });
