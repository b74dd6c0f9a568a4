// Names what failed in a vitest report, with the first lines of why: node scripts/failures.mjs REPORT.json
import { readFileSync } from 'node:fs';

for (const file of JSON.parse(readFileSync(process.argv[2], 'utf8')).testResults)
  for (const test of file.assertionResults.filter((t) => t.status === 'failed'))
    console.log(`${test.fullName} [FAIL]\n${firstLines(test.failureMessages.join('\n'))}`);

function firstLines(message) {
  return message
    .split('\n')
    .filter((line) => line.trim())
    .slice(0, 6)
    .map((line) => `  ${line.slice(0, 300)}`)
    .join('\n');
}
