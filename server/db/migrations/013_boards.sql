-- Boards that people keep: sheets of cards, each a hunt with a picture. Every change is a version.
CREATE TABLE boards (
  id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
  owner text NOT NULL REFERENCES users (name),
  -- A person has one Desk; any number of others.
  desk boolean NOT NULL DEFAULT false,
  shared text NOT NULL DEFAULT 'me' CHECK (shared IN ('me', 'everyone', 'named')),
  -- Who sees it besides its owner, where it is shared by name.
  named text[] NOT NULL DEFAULT '{}' CHECK (shared = 'named' OR named = '{}'),
  document jsonb NOT NULL,
  version int NOT NULL DEFAULT 1,
  changed timestamptz NOT NULL DEFAULT now(),
  -- Removed ones can be taken back for a while.
  removed timestamptz
);
CREATE UNIQUE INDEX boards_desk ON boards (owner) WHERE desk;
CREATE INDEX boards_owner ON boards (owner);
CREATE INDEX boards_removed ON boards (removed) WHERE removed IS NOT NULL;

CREATE TABLE board_versions (
  board bigint NOT NULL REFERENCES boards (id) ON DELETE CASCADE,
  version int NOT NULL,
  document jsonb NOT NULL,
  by text NOT NULL,
  at timestamptz NOT NULL DEFAULT now(),
  PRIMARY KEY (board, version)
);
