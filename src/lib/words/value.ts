/** What is put into a sentence as it is. */
export type Value = string | number;
