-- A thing is one row: its table, its id, and the rest as the JSON document that the house file has of it.
-- What it says is checked by the core at every change and every load; what the database still guards is that a document
-- can be read and names its own id, that ids survive as JSON numbers, and that nothing outlives its house.

CREATE TABLE thing (
    house INTEGER NOT NULL REFERENCES house (id) ON DELETE CASCADE,
    sort  TEXT    NOT NULL CHECK (sort <> ''),
    id    INTEGER NOT NULL CHECK (id BETWEEN 1 AND 9007199254740991),
    doc   TEXT    NOT NULL CHECK (json_valid(doc) AND doc ->> '$.id' = id),
    PRIMARY KEY (house, sort, id)
) STRICT, WITHOUT ROWID;

ALTER TABLE house ADD COLUMN about TEXT NOT NULL DEFAULT '{}' CHECK (json_valid(about));
UPDATE house SET about = json_object('name', name, 'proof_threshold', json(format('%!.17g', proof_threshold)),
    'lengths', lengths, 'every_panel', json(iif(every_panel, 'true', 'false')));

INSERT INTO thing SELECT house, 'panels', id, json_object(
    'id', id, 'name', name, 'fed_by', fed_by, 'supply', supply, 'bus', json(format('%!.17g', bus_amps)),
    'main', iif(main_amps IS NULL, NULL, json(format('%!.17g', main_amps))), 'spaces', spaces,
    'numbering', iif(engraved IS NULL, json_quote(numbering), json_object('custom', json(engraved))) -> '$',
    'tandem', json(tandem), 'tandem_known', tandem_known, 'max_circuits', max_circuits,
    'empty', json((SELECT json_group_array(space || substr('ab', half, half > 0) ORDER BY space, half)
        FROM empty_space e WHERE e.house = panel.house AND e.panel = panel.id)),
    'card', iif(card_width IS NULL, NULL, json_object('width', json(format('%!.17g', card_width)),
        'height', json(format('%!.17g', card_height)))) -> '$',
    'model', model, 'listed', json(listed), 'bonded', iif(bonded IS NULL, NULL, json(iif(bonded, 'true', 'false'))) -> '$',
    'plug_on_neutral', iif(plug_on_neutral IS NULL, NULL, json(iif(plug_on_neutral, 'true', 'false'))) -> '$',
    'feed_through', json(iif(feed_through, 'true', 'false')), 'disconnect', disconnect,
    'separate_building', json(iif(separate_building, 'true', 'false')),
    'place', (SELECT json_object('room', room, 'spot', spot -> '$') FROM panel_place l
        WHERE l.house = panel.house AND l.panel = panel.id) -> '$',
    'printed', printed -> '$') FROM panel;

INSERT INTO thing SELECT house, 'breakers', id, json_object(
    'id', id, 'panel', panel, 'at', json((SELECT json_group_array(space || substr('ab', half, half > 0) ORDER BY nth)
        FROM pole p WHERE p.house = breaker.house AND p.breaker = breaker.id)),
    'amps', json(format('%!.17g', amps)), 'device', device, 'handle', handle, 'label', label, 'frame', frame,
    'trip', trip, 'model', model, 'terminal', terminal -> '$', 'as_found', json(iif(as_found, 'true', 'false')))
    FROM breaker;

INSERT INTO thing SELECT house, 'circuits', id, json_object(
    'id', id, 'breaker', breaker, 'pole', pole, 'wire', wire, 'metal', metal, 'conductors', conductors,
    'length', iif(length_feet IS NULL, NULL, json(format('%!.17g', length_feet))) -> '$', 'colours', json(colours),
    'landed', landed, 'neutral_of', neutral_of, 'as_found', json(iif(as_found, 'true', 'false'))) FROM circuit;

INSERT INTO thing SELECT house, 'rooms', id, json_object('id', id, 'name', name, 'floor', floor,
    'area', (SELECT json_object('x', json(format('%!.17g', x)), 'y', json(format('%!.17g', y)),
            'width', json(format('%!.17g', width)), 'depth', json(format('%!.17g', depth)))
        FROM room_area a WHERE a.house = room.house AND a.room = room.id) -> '$') FROM room;

INSERT INTO thing SELECT house, 'openings', id, json_object('id', id, 'room', room, 'kind', kind, 'wall', wall,
    'along', json(format('%!.17g', along)), 'width', json(format('%!.17g', width)), 'to', to_room) FROM opening;

INSERT INTO thing SELECT house, 'points', id, json_object(
    'id', id, 'tag', tag, 'room', room, 'kind', kind, 'name', name, 'volts', volts,
    'watts', iif(watts IS NULL, NULL, json(format('%!.17g', watts))) -> '$', 'spot', spot -> '$', 'shared_box', shared_box,
    'ground_fault', json(iif(ground_fault, 'true', 'false')), 'shows', json(iif(shows, 'true', 'false')),
    'protected_by', (SELECT other FROM point_tie t WHERE t.house = point.house AND t.point = point.id
        AND tie = 'protected-by'),
    'switched_by', json((SELECT json_group_array(other ORDER BY other) FROM point_tie t
        WHERE t.house = point.house AND t.point = point.id AND tie = 'switched-by'))) FROM point;

INSERT INTO thing SELECT house, 'evidence', id, json_object(
    'id', id, 'point', point, 'time', time, 'who', who, 'step', step,
    'observation', json(CASE
        WHEN what = 'power' THEN json_object('what', 'power', 'off',
            json((SELECT json_group_array(breaker ORDER BY breaker) FROM evidence_breaker b
                WHERE b.house = evidence.house AND b.evidence = evidence.id)), 'seen', seen, 'how', how)
        WHEN what IN ('pointed', 'wire') THEN json_object('what', what, 'at',
            (SELECT breaker FROM evidence_breaker b WHERE b.house = evidence.house AND b.evidence = evidence.id))
        ELSE detail END)) FROM evidence;

INSERT INTO thing SELECT house, 'log', id, json_object('id', id, 'time', time, 'who', who, 'event', json(event),
    'note', note) FROM log_entry;

INSERT INTO thing SELECT house, 'pictures', id, json_object('id', id, 'of', json(shows), 'time', time, 'who', who,
    'caption', caption, 'width', width, 'height', height, 'digest', digest) FROM picture;

INSERT INTO thing SELECT house, 'underlays', id, json_object('id', id, 'floor', floor, 'picture', picture,
    'x', json(format('%!.17g', x)), 'y', json(format('%!.17g', y)), 'width', json(format('%!.17g', width))) FROM underlay;

INSERT INTO thing SELECT house, 'runs', id, json_object('id', id, 'begun', begun, 'ended', ended, 'crew', json(crew),
    'steps', steps, 'outages', outages, 'searched', json((SELECT json_group_array(breaker ORDER BY breaker)
        FROM run_searched s WHERE s.house = run.house AND s.run = run.id))) FROM run;

INSERT INTO thing SELECT house, 'step', id, json_object('id', id,
    'off', json((SELECT json_group_array(breaker ORDER BY breaker) FROM step_off o WHERE o.house = step.house)),
    'visit', json((SELECT json_group_array(point ORDER BY nth) FROM step_visit v WHERE v.house = step.house))) FROM step;

DROP TABLE step_visit;
DROP TABLE step_off;
DROP TABLE step;
DROP TABLE run_searched;
DROP TABLE run;
DROP TABLE underlay;
DROP TABLE picture;
DROP TABLE log_entry;
DROP TABLE evidence_breaker;
DROP TABLE evidence;
DROP TABLE point_tie;
DROP TABLE point;
DROP TABLE opening;
DROP TABLE room_area;
DROP TABLE panel_place;
DROP TABLE circuit;
DROP TABLE pole;
-- Panels and breakers name each other.
UPDATE panel SET fed_by = NULL;
DROP TABLE breaker;
DROP TABLE empty_space;
DROP TABLE panel;
DROP TABLE room;
ALTER TABLE house DROP COLUMN every_panel;
ALTER TABLE house DROP COLUMN lengths;
ALTER TABLE house DROP COLUMN proof_threshold;
ALTER TABLE house DROP COLUMN name;
