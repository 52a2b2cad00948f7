import { spawn } from 'node:child_process';

/** Runs a program to its end with our terminal. @returns its exit code */
export const run = (file, args, options = {}) =>
  new Promise((resolve) => {
    const child = spawn(file, args, { stdio: 'inherit', ...options });
    child.on('error', () => resolve(127));
    child.on('exit', (code, signal) => resolve(code ?? (signal ? 130 : 1)));
  });

/** Runs a program and gathers what it prints. */
export const capture = (file, args, options = {}) =>
  new Promise((resolve) => {
    let output = '';
    const child = spawn(file, args, { stdio: ['ignore', 'pipe', 'pipe'], ...options });
    for (const stream of [child.stdout, child.stderr]) stream.on('data', (chunk) => (output += chunk));
    child.on('error', (error) => resolve({ code: 127, output: error.message }));
    child.on('close', (code) => resolve({ code: code ?? 1, output }));
  });
