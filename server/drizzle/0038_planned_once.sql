-- These run with nearly every change. Functions in SQL are planned anew at each call, those in PL/pgSQL once for a connection.
CREATE OR REPLACE FUNCTION live_folders(what text, folder_ids uuid[]) RETURNS void LANGUAGE plpgsql AS $$
BEGIN
  IF cardinality(folder_ids) > 0 THEN
    PERFORM live(school_id, what, array_agg(id)) FROM folders WHERE id = ANY (folder_ids) GROUP BY school_id;
  END IF;
END $$;
--> statement-breakpoint
CREATE OR REPLACE FUNCTION is_in_place(folder uuid, item uuid) RETURNS boolean LANGUAGE plpgsql STABLE AS $$
BEGIN
  RETURN EXISTS (SELECT FROM folders f WHERE f.id = folder AND f.in_place)
    OR EXISTS (SELECT FROM placements p JOIN folders f ON f.id = p.folder_id WHERE p.item_id = item AND p.binned_at IS NULL AND f.in_place);
END $$;
