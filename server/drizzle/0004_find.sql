-- Names are found in spite of typing mistakes by the threes of letters they are made of.
CREATE EXTENSION IF NOT EXISTS pg_trgm;
