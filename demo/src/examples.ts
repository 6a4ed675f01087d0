export const EXAMPLES: readonly Example[] = []; export interface Example {readonly file: string}
