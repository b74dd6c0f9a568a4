// A generated table in DuckDB, and a service of its own over it.
import { spawnSync } from 'node:child_process';
import { existsSync, mkdirSync, mkdtempSync, renameSync, rmSync, writeFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { root, startService, weir } from './demo.mjs';

const { DuckDBInstance } = createRequire(join(root, 'console/package.json'))('@duckdb/node-api');
const password = 'not-a-secret-here';

async function makeTable(count) {
  const folder = join(root, '.test/bench-rows/files');
  mkdirSync(folder, { recursive: true });
  const file = join(folder, `sales-${count}.duckdb`);
  if (existsSync(file)) return folder;
  const instance = await DuckDBInstance.create(`${file}.new`);
  const connection = await instance.connect();
  const hash = '(hash(i) % 1000000007)::BIGINT';
  await connection.run(
    `CREATE TABLE sale AS SELECT i AS id, 'port ' || (${hash} % 12) AS port, 'kind ' || (${hash} // 12 % 5) AS kind, 'channel ' || (${hash} // 60 % 4) AS channel, TIMESTAMP '2023-01-01 00:00:00' + (${hash} // 240 % 1500000) * INTERVAL '1 minute' AS at, (${hash} // 7 % 500) AS tickets, CAST((${hash} // 11 % 90000) / 100.0 AS DECIMAL(10, 2)) AS amount FROM range(${count}) t(i)`,
  );
  await connection.run('CHECKPOINT');
  connection.closeSync();
  instance.closeSync();
  renameSync(`${file}.new`, file);
  return folder;
}

/**
 * A service over a table of so many sales, with the account all who sees everything.
 * @param grant What the role of that account may do, as text.
 * @param dashboard Its name, and its tabs as text.
 */
export async function startTable(count, grant, { name, tabs }) {
  const files = await makeTable(count);
  const data = mkdtempSync(join(tmpdir(), 'weir-table-'));
  const write = (path, text) => {
    mkdirSync(join(data, 'workspace', path, '..'), { recursive: true });
    writeFileSync(join(data, 'workspace', path), text);
  };
  write('workspace.yaml', 'workspace: bench\n');
  write('sources/s.yaml', `source: s\nengine: duckdb\nfile: sales-${count}.duckdb\nlimits: { seconds: 300, at_once: 2, memory_mb: 2000 }\n`);
  write(
    'datasets/sales.yaml',
    'dataset: sales\nsource: s\nfrom: sale\nfreshness: { seconds: 0 }\nfields:\n  port: { column: port }\n  kind: { column: kind }\n  channel: { column: channel }\n  at: { column: at, type: timestamp }\n  amount: { column: amount, type: decimal }\nmeasures:\n  income: { formula: "sum(amount)" }\n',
  );
  write(`dashboards/${name}.yaml`, `dashboard: ${name}\ntabs:\n${tabs}`);
  write('access.yaml', `roles:\n  all: ${grant}\n`);
  spawnSync(weir, ['users', 'put', 'all', '--role', 'all', '--password-stdin', '--data', data], { input: `${password}\n` });
  const service = await startService(['serve', '--data', data, '--workspace', join(data, 'workspace'), '--files', files, '--port', '0']);
  return {
    ...service,
    password,
    async stop() {
      await service.end();
      rmSync(data, { recursive: true });
    },
  };
}
