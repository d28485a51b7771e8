import type { Migration } from '../migration.ts';

/** Whatever changes of a shot is told, so that every page that shows it follows, whoever changed it. No service can forget to. */
export const shotNews: Migration = {
  name: '0004-shot-news',
  up: `
    CREATE FUNCTION tell_of_shot() RETURNS trigger LANGUAGE plpgsql AS $$
    BEGIN
      PERFORM pg_notify('shot_news', NEW.shot_id::text);
      RETURN NULL;
    END $$;
    CREATE FUNCTION tell_of_mark() RETURNS trigger LANGUAGE plpgsql AS $$
    BEGIN
      PERFORM pg_notify('shot_news', (SELECT r.shot_id::text FROM revisions r WHERE r.id = NEW.revision_id));
      RETURN NULL;
    END $$;
    CREATE FUNCTION tell_of_reply() RETURNS trigger LANGUAGE plpgsql AS $$
    BEGIN
      PERFORM pg_notify('shot_news',
        (SELECT r.shot_id::text FROM marks m JOIN revisions r ON r.id = m.revision_id WHERE m.id = NEW.mark_id));
      RETURN NULL;
    END $$;
    CREATE TRIGGER revisions_news AFTER INSERT OR UPDATE ON revisions FOR EACH ROW EXECUTE FUNCTION tell_of_shot();
    CREATE TRIGGER dismissals_news AFTER INSERT OR UPDATE ON dismissals FOR EACH ROW EXECUTE FUNCTION tell_of_shot();
    CREATE TRIGGER marks_news AFTER INSERT OR UPDATE ON marks FOR EACH ROW EXECUTE FUNCTION tell_of_mark();
    CREATE TRIGGER replies_news AFTER INSERT ON replies FOR EACH ROW EXECUTE FUNCTION tell_of_reply();
  `,
  down: `
    DROP TRIGGER replies_news ON replies;
    DROP TRIGGER marks_news ON marks;
    DROP TRIGGER dismissals_news ON dismissals;
    DROP TRIGGER revisions_news ON revisions;
    DROP FUNCTION tell_of_reply(), tell_of_mark(), tell_of_shot();
  `,
};
