/** `npm start -- --restore`: lists the daily copies of the database, and puts the chosen one back. */
import { createInterface } from 'node:readline/promises';
import { claimDataFolder, dataFolder, listCopies, restoreCopy } from './data-folder.mjs';

/** The copy that a person means: by its number in the list, its day or its file's name; undefined: none. */
function copyNamed(copies, answer) {
  if (/^\d{1,3}$/.test(answer)) return copies[Number(answer) - 1];
  return copies.find((name) => name === answer || name.slice(4, 14) === answer);
}

/**
 * @param chosen number or name of a copy; undefined asks where somebody can answer, else only lists.
 * @returns the exit code.
 * @throws StartRefusal in words.
 */
export async function restore(chosen) {
  const release = claimDataFolder();
  try {
    const copies = listCopies();
    if (copies.length === 0) {
      console.log(`There are no copies yet in ${dataFolder()}; Kiv makes one a day while it runs.`);
      return 1;
    }
    console.log('Copies of the database, the newest first:');
    copies.forEach((name, k) => console.log(`  ${k + 1}  ${name.slice(4, 14)}`));
    let answer = chosen;
    if (answer === undefined && process.stdin.isTTY) {
      const lines = createInterface({ input: process.stdin, output: process.stdout });
      answer = (await lines.question('Which one shall be put back? (number, or Enter for none) ')).trim();
      lines.close();
    }
    if (!answer) {
      console.log('Nothing was changed. To put one back: npm start -- --restore NUMBER');
      return 0;
    }
    const name = copyNamed(copies, answer);
    if (!name) {
      console.error(`There is no copy “${answer}”. Name one by its number or its day. Nothing was changed.`);
      return 2;
    }
    const aside = restoreCopy(name);
    console.log(`The copy of ${name.slice(4, 14)} is in place.`);
    if (aside) console.log(`What was there before is kept as ${aside}`);
    return 0;
  } finally {
    release();
  }
}
