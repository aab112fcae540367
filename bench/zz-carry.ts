import { benchCarry } from './carry';
void benchCarry(process.argv[2]);
