-- When a board with a schedule is answered next; null for all others.
ALTER TABLE boards ADD COLUMN due timestamptz;
CREATE INDEX boards_due ON boards (due) WHERE due IS NOT NULL;

-- What boards showed at the times of their schedules.
CREATE TABLE board_sheets (
  id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
  board bigint NOT NULL REFERENCES boards (id) ON DELETE CASCADE,
  due timestamptz NOT NULL,
  version int NOT NULL,
  -- One that is being made for long belongs to a server that is gone, and is made again.
  began timestamptz NOT NULL,
  tries int NOT NULL DEFAULT 1,
  made timestamptz,
  cards int NOT NULL DEFAULT 0,
  failed int NOT NULL DEFAULT 0,
  problem text,
  -- The page as it was made: HTML in UTF-8, packed by gzip.
  page bytea,
  UNIQUE (board, due)
);
CREATE INDEX board_sheets_making ON board_sheets (began) WHERE made IS NULL;

-- What goes out is about an alert, or it is a sheet.
ALTER TABLE deliveries ALTER COLUMN alert DROP NOT NULL;
ALTER TABLE deliveries ADD COLUMN sheet bigint REFERENCES board_sheets (id) ON DELETE CASCADE;
ALTER TABLE deliveries ADD CONSTRAINT deliveries_about CHECK ((alert IS NULL) <> (sheet IS NULL));
CREATE INDEX deliveries_sheet ON deliveries (sheet) WHERE sheet IS NOT NULL;
