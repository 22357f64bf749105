/** The tables of documents of each kind; a name comes from here, never from whoever asks. */
export const TABLES = {
  runbook: { documents: 'runbooks', versions: 'runbook_versions' },
  response: { documents: 'response_documents', versions: 'response_document_versions' },
} as const;
export type DocumentKind = keyof typeof TABLES;

const COLUMNS = 'name, version, document, changed_by, changed';

/** The statements for documents of a kind. */
export const documentSql = (kind: DocumentKind) => {
  const { documents, versions } = TABLES[kind];
  return {
    readAll: `SELECT ${COLUMNS} FROM ${documents} ORDER BY name LIMIT 500`,
    /** $1 name */
    read: `SELECT ${COLUMNS} FROM ${documents} WHERE name = $1`,
    count: `SELECT count(*)::int AS n FROM ${documents}`,
    /** $1 name */
    hold: `SELECT version FROM ${documents} WHERE name = $1 FOR UPDATE`,
    /** $1 name, $2 version, $3 document, $4 who */
    put: `INSERT INTO ${documents} (name, version, document, changed_by) VALUES ($1, $2, $3, $4)
      ON CONFLICT (name) DO UPDATE SET version = excluded.version, document = excluded.document,
        changed_by = excluded.changed_by, changed = now()`,
    /** as {@link put} */
    addVersion: `INSERT INTO ${versions} (name, version, document, changed_by) VALUES ($1, $2, $3, $4)`,
    /** $1 name */
    versions: `SELECT ${COLUMNS} FROM ${versions} WHERE name = $1 ORDER BY version DESC LIMIT 200`,
    /** $1 name */
    remove: `DELETE FROM ${documents} WHERE name = $1`,
  };
};
