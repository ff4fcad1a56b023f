import { buildDemo } from './buildDemo.ts';

const folder = process.argv[2];
if (!folder) {
  console.error('Say where the clips go: npm run demo -- FOLDER');
  process.exitCode = 2;
} else {
  for (const { file, made } of await buildDemo(folder)) console.log(`${file}  ${made}`);
}
