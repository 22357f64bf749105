import type { Board } from '../board.js';

/** Who gets in and who does not. */
export const signIns: Board = {
  title: 'Sign-ins',
  about: 'How many get in and how many do not, why, and who got in after failing.',
  refresh: 60,
  cards: [
    {
      id: 'failed',
      title: 'Failed',
      hunt: "from signin\nwhere outcome = 'failure'\ntally count() as failed",
      picture: { kind: 'number', usual: 4 },
    },
  ],
  layout: [{ card: 'failed', x: 0, y: 0, w: 3, h: 3 }],
};
