-- Who may sign in. While there is no account nobody has to.
CREATE TABLE pelvok.account (
    id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
    name text NOT NULL,
    role text NOT NULL CHECK (role IN ('reader', 'reviewer', 'owner')),
    -- scrypt$N$r$p$salt$hash, salt and hash in base64url.
    password text NOT NULL,
    created_at timestamptz NOT NULL DEFAULT now(),
    created_by text NOT NULL
);
CREATE UNIQUE INDEX account_name_idx ON pelvok.account (lower(name));

-- The cookie holds a token; only its SHA-256 is kept.
CREATE TABLE pelvok.session (
    token bytea PRIMARY KEY,
    account_id bigint NOT NULL REFERENCES pelvok.account (id) ON DELETE CASCADE,
    created_at timestamptz NOT NULL DEFAULT now(),
    expires_at timestamptz NOT NULL
);
CREATE INDEX session_account_idx ON pelvok.session (account_id);

-- Signing in that did not succeed, by the name that was given.
CREATE TABLE pelvok.sign_in_attempt (
    id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
    name text NOT NULL,
    at timestamptz NOT NULL DEFAULT now()
);
CREATE INDEX sign_in_attempt_idx ON pelvok.sign_in_attempt (name, at);
