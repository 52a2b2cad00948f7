// Bundles the processes that are not the web application into dist/, each as one file; packages stay outside.
import { build } from 'esbuild';

// The page tag runs on the merchants' pages, in whatever browser comes.
await build({
  entryPoints: { tag: 'src/tag/tag.ts' },
  outdir: 'dist',
  bundle: true,
  minify: true,
  format: 'iife',
  target: 'es2019',
  logLevel: 'warning',
});

await build({
  entryPoints: {
    edge: 'src/edge/main.ts',
    commit: 'src/edge/commit_main.ts',
    worker: 'src/worker/main.ts',
    standins: 'src/standins/main.ts',
    demo: 'src/demo/main.ts',
    verify: 'src/services/verify_main.ts',
    backup: 'src/services/backup_main.ts',
    prepare: 'src/services/prepare_main.ts',
    found: 'src/services/found_main.ts',
    rebuild: 'src/worker/rebuild_main.ts',
    job: 'src/services/jobs/main.ts',
    file_reader: 'src/services/file_reader_main.ts',
    reports: 'src/services/reports/main.ts',
    reports_second: 'src/services/reports/second_main.ts',
    bench: 'tests/bench/main.ts',
    bench_busy: 'tests/bench/busy.ts',
  },
  outdir: 'dist',
  outExtension: { '.js': '.mjs' },
  bundle: true,
  platform: 'node',
  target: 'node20',
  format: 'esm',
  packages: 'external',
  sourcemap: true,
  logLevel: 'warning',
});
