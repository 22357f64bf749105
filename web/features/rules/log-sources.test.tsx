import { fireEvent, screen, waitFor } from '@testing-library/react';
import { fakeApi, show } from '../../tests/page.js';
import { LogSourcesPage } from './LogSourcesPage.js';
import { fieldsToText, textToFields } from './LogSourceSheet.js';

describe('log sources', () => {
  const entry = {
    id: 3,
    category: 'process_creation',
    product: null,
    service: null,
    kinds: ['process'],
    sources: [],
    fields: { Image: 'process_path' },
    note: 'programs that start',
    rules: 2,
    given: [],
  };
  const table = {
    entries: [entry],
    recipes: [{ source: 'mast-os', category: null, product: 'windows', service: null }],
    known: [
      {
        category: null,
        product: 'windows',
        service: 'security',
        kinds: [],
        fields: {},
        where: { Channel: ['Security'] },
        rules: 1,
      },
    ],
  };

  it('fields are lines of text, and a line that is none is told', () => {
    const fields = { 'Some Field': 'original.x', Image: 'process_path' };
    expect(textToFields(fieldsToText(fields))).toEqual(fields);
    expect(() => textToFields('a = b\n\nnothing')).toThrow('Line 3 of the fields cannot be read');
  });

  it('what is known by itself says by what a record chooses it, and is not changed', async () => {
    fakeApi({ 'GET /log-sources': table });
    show(<LogSourcesPage />, { at: '/rules/log-sources' });
    await screen.findByText('known by itself: the record says Channel Security');
    fireEvent.click(screen.getByText('windows / security'));
    expect(screen.getByText('No line is open')).toBeTruthy();
  });

  it('a line says what it means, and is changed', async () => {
    const api = fakeApi({ 'GET /log-sources': table, 'PUT /log-sources/3': entry });
    show(<LogSourcesPage />, { at: '/rules/log-sources' });
    expect(await screen.findByText('no source')).toBeTruthy();
    fireEvent.click(screen.getByRole('button', { name: 'process_creation' }));
    fireEvent.click(screen.getByLabelText('mast-os'));
    fireEvent.click(screen.getByRole('button', { name: 'Keep the line' }));
    await waitFor(() => expect(api.changes()).toHaveLength(1));
    expect(api.changes()[0]?.body).toMatchObject({ sources: ['mast-os'], fields: { Image: 'process_path' } });
  });

  it('a line of fields that cannot be read is told, and nothing is sent', async () => {
    const api = fakeApi({ 'GET /log-sources': table });
    show(<LogSourcesPage />, { at: '/rules/log-sources' });
    await screen.findByText('no source');
    fireEvent.click(screen.getByRole('button', { name: 'process_creation' }));
    fireEvent.change(screen.getByLabelText('Fields'), { target: { value: 'Image process_path' } });
    fireEvent.click(screen.getByRole('button', { name: 'Keep the line' }));
    expect((await screen.findByRole('alert')).textContent).toContain('Line 1 of the fields cannot be read');
    expect(screen.getByLabelText<HTMLTextAreaElement>('Fields').value).toBe('Image process_path');
    expect(api.changes()).toHaveLength(0);
  });

  it('J and K walk the lines that can be changed, and pass over what recipes say', async () => {
    fakeApi({ 'GET /log-sources': { ...table, entries: [entry, { ...entry, id: 4, category: 'dns' }] } });
    show(<LogSourcesPage />, { at: '/rules/log-sources' });
    await screen.findAllByText('no source');
    const lit = (): string | undefined =>
      document.querySelector('tr[aria-current=true] .link')?.textContent ?? undefined;
    for (const [key, wanted] of [
      ['j', 'process_creation'],
      ['j', 'dns'],
      ['j', 'dns'],
      ['k', 'process_creation'],
    ] as const) {
      fireEvent.keyDown(document.body, { key });
      expect(lit()).toBe(wanted);
    }
  });

  it('readers only read it', async () => {
    fakeApi({ 'GET /log-sources': table });
    show(<LogSourcesPage />, { at: '/rules/log-sources', role: 'reader' });
    await screen.findByText('no source');
    expect(screen.queryByRole('button', { name: 'New line' })).toBeNull();
  });
});
