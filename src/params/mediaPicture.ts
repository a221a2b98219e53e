/** The pictures that there are of a file of the library. */
export const match = (param: string): param is 'poster' | 'strip' => param === 'poster' || param === 'strip';
