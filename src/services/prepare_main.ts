import { openBooks } from '@/store/books';
import { openRollupsForWriting } from '@/store/rollups';
import { openTrafficForWriting } from '@/store/traffic';
import { storeFile } from './stores';

/** Brings all three databases up to date before any process opens them. Ends with 3 when no program is founded yet. */
const traffic = openTrafficForWriting(storeFile('traffic'));
const rollups = openRollupsForWriting(storeFile('rollups'));
const books = openBooks(storeFile('books'));
if (!process.argv.includes('--quiet') && books.programs.all().length === 0) process.exitCode = 3;
for (const { db } of [traffic, rollups, books]) db.close();
