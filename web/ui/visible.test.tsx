import { render, screen } from '@testing-library/react';

const MISLEADING = 'root\u202egnp.exe\u200b';

it('every text that is put into a page shows characters that would mislead, in what is read aloud too', () => {
  render(
    <p aria-label={MISLEADING} title={MISLEADING}>
      {MISLEADING} and {['a\u2066b', 1]}
    </p>,
  );
  const part = screen.getByText(/gnp/);
  expect(part.textContent).toBe('root⟨U+202E⟩gnp.exe⟨U+200B⟩ and a⟨U+2066⟩b1');
  expect(part.title).toBe('root⟨U+202E⟩gnp.exe⟨U+200B⟩');
  expect(part.getAttribute('aria-label')).toBe('root⟨U+202E⟩gnp.exe⟨U+200B⟩');
});

it('what is typed stays as it is', () => {
  render(<input aria-label="name" defaultValue={MISLEADING} />);
  expect(screen.getByLabelText<HTMLInputElement>('name').value).toBe(MISLEADING);
});
