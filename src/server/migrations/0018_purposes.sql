-- What an outline is for in its crossing's plan. Until now a bridge's edges were told by what they cut and by a name that
-- people can change.
ALTER TABLE outline ADD COLUMN purpose TEXT NOT NULL DEFAULT 'any';
UPDATE outline SET purpose = 'back edge'
  WHERE name = 'Back edge' AND crossing_id IN (SELECT id FROM crossing WHERE plan = 'bridge');
UPDATE outline SET purpose = 'front edge'
  WHERE crossing_id IN (SELECT id FROM crossing WHERE plan = 'bridge')
    AND cuts_layer_id IN (SELECT id FROM layer WHERE role = 'outgoing');

-- The history names whole rows, which have to be those of the tables.
CREATE TEMP TABLE edge_with_purpose AS SELECT id, crossing_id, purpose FROM outline WHERE purpose <> 'any';
CREATE TEMP TABLE edit_of_edge AS
  SELECT DISTINCT edit.id FROM edit, json_each(edit.changes) AS change, edge_with_purpose
    WHERE edge_with_purpose.crossing_id = edit.crossing_id AND change.value ->> 'id' = edge_with_purpose.id
      AND change.value ->> 'table' = 'outline';
UPDATE edit SET
  changes = (SELECT json_group_array(json(coalesce(
      (SELECT json_set(change.value, '$.before.purpose', purpose, '$.after.purpose', purpose) FROM edge_with_purpose
         WHERE id = change.value ->> 'id' AND change.value ->> 'table' = 'outline'),
      change.value)) ORDER BY change.key) FROM json_each(edit.changes) AS change),
  inverse = (SELECT json_group_array(json(coalesce(
      (SELECT json_set(change.value, '$.before.purpose', purpose, '$.after.purpose', purpose) FROM edge_with_purpose
         WHERE id = change.value ->> 'id' AND change.value ->> 'table' = 'outline'),
      change.value)) ORDER BY change.key) FROM json_each(edit.inverse) AS change)
  WHERE id IN (SELECT id FROM edit_of_edge);
DROP TABLE edit_of_edge;
DROP TABLE edge_with_purpose;
