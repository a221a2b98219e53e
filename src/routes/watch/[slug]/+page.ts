/** A viewer's page brings no more script than it needs: its own. */
export const csr = false;
