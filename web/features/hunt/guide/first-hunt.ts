/** What the bench looks like at some moment, as much of it as the guide looks at. */
export interface BenchNow {
  /** The steps that were run last. */
  readonly text: string;
  readonly hours: number;
  readonly split: string | null;
  readonly reading: boolean;
  readonly peeking: boolean;
  readonly view: string | null;
  readonly rows: number;
}

export interface GuideStep {
  readonly title: string;
  readonly words: string;
  /** Whether what the step asks for has been done; the last is ended by whoever reads it. */
  readonly done: (now: BenchNow) => boolean;
}

const has = (text: string, pattern: RegExp): boolean => pattern.test(text.toLowerCase());

/** A first hunt in ten steps on the demo data: from a spike to its cause. */
export const firstHunt: readonly GuideStep[] = [
  {
    title: 'Shine on the last week',
    words:
      'In the Beam, the strip at the top, open the window and choose “Last 7 days”. Everything you see is of that time.',
    done: ({ hours }) => hours >= 160,
  },
  {
    title: 'Ask for network traffic',
    words: 'In the steps write “from network” in place of what stands there, and press Ctrl Enter.',
    done: ({ text }) => has(text, /^from network\b/m),
  },
  {
    title: 'Split the bars by port',
    words:
      'Above the bars choose dst_port. Each colour is a port; the number beside it says how many events.',
    done: ({ split }) => split === 'dst_port',
  },
  {
    title: 'Keep one port',
    words:
      'Name look-ups go to port 53. Press 53 beside the bars, then “Keep only this”. A step was written for you: that is how the language is learned.',
    done: ({ text }) => has(text, /dst_port = 53/),
  },
  {
    title: 'Look at the spike alone',
    words:
      'One stretch stands out. Drag over it and press “Move the Beam here”; drag again until it fills the bars.',
    done: ({ hours, text }) => hours <= 12 && has(text, /dst_port = 53/),
  },
  {
    title: 'Who is it?',
    words: 'Click any value in the column src_ip, then “Tally per this”: how many for each address.',
    done: ({ text }) => has(text, /tally count\(\) per/),
  },
  {
    title: 'Back to the events',
    words:
      'Click the address that has most, then “The events behind this row”. The tally gives way to a condition.',
    done: ({ text }) => has(text, /where src_ip = '/) && !has(text, /^tally/m),
  },
  {
    title: 'Read one event',
    words:
      'Double-click a row, or press Enter on it. Everything the record says stands there, with what happened around it.',
    done: ({ reading }) => reading,
  },
  {
    title: 'Peek',
    words:
      'Press Esc to close the reading. Then click a number beside a step: the rows as they stood there. The later steps are not lost.',
    done: ({ peeking }) => peeking,
  },
  {
    title: 'Keep it',
    words:
      'Go back to the whole hunt. Under “Path” you see where you have been; “Save this hunt” keeps the steps, “Snapshots” the rows, and “Share link” shows it to a colleague.',
    done: () => false,
  },
];
