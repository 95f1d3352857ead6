//! Bringing a book in: put together beside the database, from a file of any length, while all else goes on; then added in one
//! transaction, all of it or nothing.

use std::io::{Read, Seek};
use std::path::{Path, PathBuf};
use std::sync::TryLockError;

use hold_steady_core::Unfit;
use hold_steady_core::book::{
    BathRecord, Brought, CookRecord, HourRecord, KitchenRecord, Remarks, Taker, read_book,
};
use hold_steady_core::limits::MOST_UNDER_WAY;
use jiff::Timestamp;
use rusqlite::{Connection, OptionalExtension, TransactionBehavior};
use uuid::Uuid;

use super::Imported;
use crate::bath::{Detail, each_hour, each_of_hour, fresh, insert_hour};
use crate::cook::phase::count;
use crate::cook::{insert, load, load_filed};
use crate::file::{prepare, remove, with_end};
use crate::migrate::{MIGRATIONS, functions};
use crate::rows::exists;
use crate::time::At;
use crate::{
    Actor, CookPhase, InKitchen, PRAGMAS, StoreError, bath, door, food, keep, kitchen, new_id, to_json,
};

impl InKitchen {
    /// Brings in the cooks and baths of a file and what its kitchen kept of its own. Records already here are left as they
    /// are, so importing twice changes nothing. What cannot be taken is left out and named; what is taken is
    /// marked with when and by whom it was brought in and the file it was in. To a cook that is under way here,
    /// nothing is ever added, nor to the water it lies in. What the other kitchen had settled is not taken over.
    ///
    /// The file is read record by record into a database of its own, between which taps and reports pass; what stands there
    /// is added in one transaction at the end. One book is brought in at a time.
    ///
    /// # Errors
    /// When the file is none of ours, another book is being brought in, or the database fails: then nothing was imported.
    pub async fn import(
        &self,
        mut file: impl Read + Seek + Send + 'static,
        now: Timestamp,
    ) -> Result<Imported, StoreError> {
        let (store, path) = (self.store.clone(), self.store.scratch_path());
        self.aside(move |c, actor| {
            let _one = match store.importing.try_lock() {
                Ok(held) => held,
                Err(TryLockError::Poisoned(held)) => held.into_inner(),
                Err(TryLockError::WouldBlock) => {
                    let text = "Another book is being brought in just now. Wait until it is done, then send this one again.";
                    return Err(StoreError::Conflict(text.into()));
                }
            };
            let under_way = count(c, actor.kitchen, CookPhase::UnderWay)?;
            let mut beside = Beside::make(path, &store.file, actor, under_way, now)?;
            let brought = read_book(&mut file, now, &mut beside)?;
            drop(file);
            beside.add(c, brought, now)
        })
        .await
    }
}

/// A book put together beside the database.
struct Beside {
    c: Connection,
    actor: Actor,
    /// What all of it is marked with.
    import: Uuid,
    kitchen: KitchenRecord,
    under_way: usize,
    written: usize,
    database: PathBuf,
    /// Last, so that it goes once the connection is closed.
    place: Scratch,
}

/// Files that are taken away again.
struct Scratch(PathBuf);

impl Drop for Scratch {
    fn drop(&mut self) {
        for end in ["", "-journal"] {
            // What cannot be removed is swept up at the next start.
            drop(remove(&with_end(&self.0, end)));
        }
    }
}

/// Records written in one go.
const PORTION: usize = 500;

impl Beside {
    /// Makes an empty one, which sees what is in the database as `here`.
    fn make(
        path: PathBuf,
        database: &Path,
        actor: &Actor,
        under_way: usize,
        now: Timestamp,
    ) -> Result<Self, StoreError> {
        prepare(&path)?;
        let place = Scratch(path);
        let mut c = Connection::open(&place.0)?;
        functions(&c)?;
        MIGRATIONS.to_latest(&mut c).map_err(|e| StoreError::Record(format!("import: {e}")))?;
        // It is thrown away if the power fails. What it refers to may be in the database, and is looked at at the end.
        c.execute_batch("PRAGMA synchronous = OFF; PRAGMA foreign_keys = OFF; PRAGMA busy_timeout = 5000;")?;
        c.execute("ATTACH ?1 AS here", [database.to_string_lossy()])?;
        c.execute_batch("BEGIN")?;
        Ok(Self {
            c,
            actor: actor.clone(),
            import: new_id(now),
            kitchen: KitchenRecord::default(),
            under_way,
            written: 0,
            database: database.into(),
            place,
        })
    }

    fn is_here(&self, table: &str, id: Uuid) -> Result<bool, StoreError> {
        let sql = format!("SELECT EXISTS (SELECT 1 FROM here.{table} WHERE id = ?1)");
        Ok(self.c.query_row(&sql, [id], |r| r.get(0))?)
    }

    /// Writes a record, all of it or nothing; or why it cannot be.
    fn whole(
        &mut self,
        write: impl FnOnce(&Connection) -> Result<usize, StoreError>,
    ) -> Result<Result<(), Unfit>, StoreError> {
        self.portion()?;
        let part = self.c.savepoint()?;
        match written(write(&part))? {
            Ok(_) => {
                part.commit()?;
                Ok(Ok(()))
            }
            Err(reason) => Ok(Err(reason.into())),
        }
    }

    /// What was written so far goes to the disk now and then, so that it takes no room.
    fn portion(&mut self) -> Result<(), StoreError> {
        self.written += 1;
        if self.written.is_multiple_of(PORTION) {
            self.c.execute_batch("COMMIT; BEGIN")?;
        }
        Ok(())
    }

    /// Adds what was put together to the database, which `c` reads.
    fn add(self, c: &Connection, brought: Brought, now: Timestamp) -> Result<Imported, StoreError> {
        let Brought { exported_at, mut said, sha256, .. } = brought;
        let mut done = Imported::default();
        self.c.execute_batch("COMMIT; BEGIN")?;
        let differs = self.against(c, &mut said, &mut done)?;
        self.c.execute_batch("COMMIT; DETACH here")?;
        // A connection of its own: what is attached to it is nobody else's.
        let mut main = Connection::open(&self.database)?;
        main.execute_batch(PRAGMAS)?;
        functions(&main)?;
        main.execute("ATTACH ?1 AS incoming", [self.place.0.to_string_lossy()])?;
        let tx = main.transaction_with_behavior(TransactionBehavior::Immediate)?;
        // The import is written at the end, when it is known what was left out; what is marked with it waits till then.
        tx.execute_batch("PRAGMA defer_foreign_keys = ON")?;
        done.pantry_added = food::merge(&tx, &self.actor, &self.kitchen.pantry, now)?
            + bath::merge(&tx, &self.actor, &self.kitchen, now)?
            + door::merge_people(&tx, &self.actor, &self.kitchen, now)?
            + kitchen::merge_guests(&tx, &self.actor, &self.kitchen, now)?
            + keep::note_new(&tx, &self.actor, &self.kitchen, now)?;
        copy(&tx)?;
        self.differing(&tx, &differs, &mut said, &mut done)?;
        (done.left_out, done.more_left_out, done.noted) = (said.left_out, said.more, said.noted);
        if done.cooks_added + done.cooks_extended + done.baths_added + done.pantry_added > 0 {
            tx.execute(
                "INSERT INTO import (id, kitchen_id, at, who_id, sha256, exported_at, kitchen, left_out)
                 VALUES (?1, ?2, ?3, ?4, ?5, ?6, ?7, ?8)",
                (
                    self.import,
                    self.actor.kitchen,
                    At(now),
                    self.actor.who(&tx)?,
                    sha256,
                    At(exported_at),
                    &self.kitchen.name,
                    to_json(&done.left_out, "left out")?,
                ),
            )?;
        }
        tx.commit()?;
        Ok(done)
    }

    /// Looks at what was put together against what is in the database: what is new, what clashes with something else there,
    /// and what is there already and has more to it.
    fn against(
        &self,
        c: &Connection,
        said: &mut Remarks,
        done: &mut Imported,
    ) -> Result<Differing, StoreError> {
        let kitchen = self.actor.kitchen;
        self.c.execute_batch(TAKEN)?;
        let here = rusqlite::named_params! { ":kitchen": kitchen };
        for (kind, sql) in [("bath", BATHS_TAKEN), ("cook", COOKS_TAKEN)] {
            self.c.execute(sql, here)?;
            // Neither new nor this kitchen's: some record of it is another's here.
            let clashing = format!(
                "SELECT t.id FROM main.{kind} t WHERE t.id NOT IN (SELECT id FROM taken_{kind})
                 AND NOT EXISTS (SELECT 1 FROM here.{kind} h WHERE h.id = t.id AND h.kitchen_id = ?1)"
            );
            for id in self.ids(&clashing, [kitchen])? {
                said.left_out(
                    format!("{kind} {id}"),
                    "it clashes with a record here: an identifier of it, or a bath it lies in, is another’s",
                );
            }
        }
        self.c.execute(STORAGES_TAKEN, here)?;
        self.c.execute(INSTRUMENTS_TAKEN, here)?;
        let number = |sql: &str| -> Result<usize, StoreError> {
            Ok(usize::try_from(self.c.query_row(sql, [], |r| r.get::<_, i64>(0))?).unwrap_or(0))
        };
        done.cooks_added = number("SELECT count(*) FROM taken_cook")?;
        done.baths_added = number(
            "SELECT count(*) FROM taken_bath t WHERE NOT EXISTS (SELECT 1 FROM main.bag WHERE bath_id = t.id)",
        )?;
        let cooks = self.ids(COOKS_WITH_MORE, [kitchen])?;
        done.cooks_unchanged = number(
            "SELECT count(*) FROM main.cook t WHERE id NOT IN (SELECT id FROM taken_cook)
             AND EXISTS (SELECT 1 FROM here.cook h WHERE h.id = t.id)",
        )?
        .saturating_sub(cooks.len());
        let mut differs = Differing { cooks, baths: Vec::new(), hours: Vec::new() };
        // What was read in a refrigerator that is known here may be more; it is said of nothing that is under way.
        for i in self.ids(STORAGES_HERE, [kitchen])? {
            self.new_hours(c, i, &mut differs)?;
        }
        for bath in self.ids(BATHS_HERE, [kitchen])? {
            // Nothing that comes from elsewhere is said of the water a piece lies in here.
            if crate::rows::in_use(c, kitchen, bath)? {
                continue;
            }
            let mut more = self.c.query_row(BATH_HAS_MORE, [bath], |r| r.get::<_, bool>(0))?;
            for i in self.ids("SELECT id FROM main.instrument WHERE bath_id = ?1", [bath])? {
                more |= self.new_hours(c, i, &mut differs)?;
            }
            if more {
                differs.baths.push(bath);
            }
        }
        Ok(differs)
    }

    /// Notes the hours of an instrument in which something was read that is not there; whether there are any.
    fn new_hours(
        &self,
        c: &Connection,
        instrument: Uuid,
        differs: &mut Differing,
    ) -> Result<bool, StoreError> {
        let mut more = false;
        // Under an identifier that is another thing's here, nothing is said of that thing.
        let another: bool = self.c.query_row(ANOTHER_S, [instrument], |r| r.get(0))?;
        if another {
            return Ok(false);
        }
        each_hour(&self.c, instrument, |hour| {
            let at = hour.hour;
            if fresh(c, hour)?.is_some() && differs.hours.last() != Some(&(instrument, at)) {
                differs.hours.push((instrument, at));
                more = true;
            }
            Ok(())
        })?;
        Ok(more)
    }

    fn ids(&self, sql: &str, about: [Uuid; 1]) -> Result<Vec<Uuid>, StoreError> {
        let mut ids = self.c.prepare_cached(sql)?;
        Ok(ids.query_map(about, |r| r.get(0))?.collect::<Result<_, _>>()?)
    }

    /// What is in the database already and has more to it: record by record.
    fn differing(
        &self,
        tx: &Connection,
        differs: &Differing,
        said: &mut Remarks,
        done: &mut Imported,
    ) -> Result<(), StoreError> {
        let kitchen = self.actor.kitchen;
        // With what else than here a refrigerator that is known here was read.
        for storage in &self.kitchen.storages {
            let here = "SELECT 1 FROM storage WHERE id = ?1 AND kitchen_id = ?2";
            if tx.query_row(here, (storage.storage.id, kitchen), |_| Ok(())).optional()?.is_some() {
                keep::insert(tx, kitchen, storage)?;
            }
        }
        for bath in &differs.baths {
            bath::insert(tx, kitchen, &bath::load(&self.c, *bath, Detail::Read)?)?;
        }
        for (instrument, hour) in &differs.hours {
            // Its bath may be in use by now.
            if exists(tx, "instrument", *instrument)? {
                each_of_hour(&self.c, *instrument, *hour, |hour| match fresh(tx, hour)? {
                    Some(hour) => insert_hour(tx, &hour),
                    None => Ok(()),
                })?;
            }
        }
        for id in &differs.cooks {
            let cook = load_filed(&self.c, kitchen, *id)?.ok_or(StoreError::NotFound)?;
            match merge(tx, &self.actor, &cook, self.import)? {
                Ok(true) => done.cooks_extended += 1,
                Ok(false) => done.cooks_unchanged += 1,
                Err(reason) => said.left_out(format!("cook {id}"), reason),
            }
        }
        Ok(())
    }
}

/// What is in the database already and has more to it in the file.
struct Differing {
    cooks: Vec<Uuid>,
    baths: Vec<Uuid>,
    /// Of instruments, the hours in which something was read that is not there.
    hours: Vec<(Uuid, Timestamp)>,
}

/// What is new, by kind.
const TAKEN: &str = "CREATE TABLE taken_bath (id BLOB PRIMARY KEY) WITHOUT ROWID;
    CREATE TABLE taken_cook (id BLOB PRIMARY KEY) WITHOUT ROWID;
    CREATE TABLE taken_storage (id BLOB PRIMARY KEY) WITHOUT ROWID;
    CREATE TABLE taken_instrument (id BLOB PRIMARY KEY) WITHOUT ROWID;";

const BATHS_TAKEN: &str = "INSERT INTO taken_bath SELECT id FROM main.bath t
    WHERE :kitchen = t.kitchen_id AND NOT EXISTS (SELECT 1 FROM here.bath h WHERE h.id = t.id)
      AND NOT EXISTS (SELECT 1 FROM main.instrument o JOIN here.instrument h ON h.id = o.id WHERE o.bath_id = t.id)
      AND NOT EXISTS (SELECT 1 FROM main.bath_setting o JOIN here.bath_setting h ON h.id = o.id WHERE o.bath_id = t.id)
      AND NOT EXISTS (SELECT 1 FROM main.water_event o JOIN here.water_event h ON h.id = o.id WHERE o.bath_id = t.id)";

const COOKS_TAKEN: &str = "INSERT INTO taken_cook SELECT id FROM main.cook t
    WHERE NOT EXISTS (SELECT 1 FROM here.cook h WHERE h.id = t.id)
      AND NOT EXISTS (SELECT 1 FROM main.piece o JOIN here.piece h ON h.id = o.id WHERE o.cook_id = t.id)
      AND NOT EXISTS (SELECT 1 FROM main.piece o JOIN main.plan p ON p.piece_id = o.id JOIN here.plan h ON h.id = p.id WHERE o.cook_id = t.id)
      AND NOT EXISTS (SELECT 1 FROM main.bag o JOIN here.bag h ON h.id = o.id WHERE o.cook_id = t.id)
      AND NOT EXISTS (SELECT 1 FROM main.event o JOIN here.event h ON h.id = o.id WHERE o.cook_id = t.id)
      AND NOT EXISTS (SELECT 1 FROM (
            SELECT bath_id AS bath FROM main.bag WHERE cook_id = t.id
            UNION SELECT id(body ->> 'bath') FROM main.event WHERE cook_id = t.id AND body ->> 'kind' = 'moved')
          WHERE bath NOT IN (SELECT id FROM taken_bath)
            AND NOT EXISTS (SELECT 1 FROM here.bath h WHERE h.id = bath AND h.kitchen_id = :kitchen))";

const STORAGES_TAKEN: &str = "INSERT INTO taken_storage SELECT id FROM main.storage t
    WHERE :kitchen = t.kitchen_id AND NOT EXISTS (SELECT 1 FROM here.storage h WHERE h.id = t.id)
      AND NOT EXISTS (SELECT 1 FROM main.instrument o JOIN here.instrument h ON h.id = o.id WHERE o.storage_id = t.id)";

const ANOTHER_S: &str = "SELECT EXISTS (SELECT 1 FROM main.instrument o JOIN here.instrument h ON h.id = o.id
    WHERE o.id = ?1 AND (h.bath_id IS NOT o.bath_id OR h.storage_id IS NOT o.storage_id))";

const STORAGES_HERE: &str =
    "SELECT i.id FROM main.instrument i JOIN here.storage h ON h.id = i.storage_id AND h.kitchen_id = ?1";

const INSTRUMENTS_TAKEN: &str = "INSERT INTO taken_instrument SELECT id FROM main.instrument t
    WHERE :kitchen = t.kitchen_id AND (bath_id IN (SELECT id FROM taken_bath) OR storage_id IN (SELECT id FROM taken_storage))
      AND (piece_id IS NULL OR EXISTS (SELECT 1 FROM here.piece h WHERE h.id = t.piece_id)
           OR EXISTS (SELECT 1 FROM main.piece p WHERE p.id = t.piece_id AND p.cook_id IN (SELECT id FROM taken_cook)))";

const COOKS_WITH_MORE: &str = "SELECT id FROM main.cook t
    WHERE EXISTS (SELECT 1 FROM here.cook h WHERE h.id = t.id AND h.kitchen_id = ?1)
      AND (EXISTS (SELECT 1 FROM main.event o WHERE o.cook_id = t.id AND NOT EXISTS (SELECT 1 FROM here.event h WHERE h.id = o.id))
        OR EXISTS (SELECT 1 FROM main.piece o WHERE o.cook_id = t.id AND NOT EXISTS (SELECT 1 FROM here.piece h WHERE h.id = o.id))
        OR EXISTS (SELECT 1 FROM main.piece o JOIN main.plan p ON p.piece_id = o.id
                   WHERE o.cook_id = t.id AND NOT EXISTS (SELECT 1 FROM here.plan h WHERE h.id = p.id)))";

const BATHS_HERE: &str = "SELECT id FROM main.bath t WHERE EXISTS (SELECT 1 FROM here.bath h WHERE h.id = t.id AND h.kitchen_id = ?1)";

const BATH_HAS_MORE: &str = "SELECT
       EXISTS (SELECT 1 FROM main.bath_setting o WHERE o.bath_id = ?1 AND NOT EXISTS (SELECT 1 FROM here.bath_setting h WHERE h.id = o.id))
    OR EXISTS (SELECT 1 FROM main.water_event o WHERE o.bath_id = ?1 AND NOT EXISTS (SELECT 1 FROM here.water_event h WHERE h.id = o.id))
    OR EXISTS (SELECT 1 FROM main.instrument o WHERE o.bath_id = ?1 AND NOT EXISTS (SELECT 1 FROM here.instrument h WHERE h.id = o.id))";

/// Copies what is new, table by table, into the database it is attached to. What its rows are marked with is the import's.
fn copy(tx: &Connection) -> Result<(), StoreError> {
    const COOKS: &str = "IN (SELECT id FROM incoming.taken_cook)";
    const BATHS: &str = "IN (SELECT id FROM incoming.taken_bath)";
    const STORAGES: &str = "IN (SELECT id FROM incoming.taken_storage)";
    const INSTRUMENTS: &str = "IN (SELECT id FROM incoming.taken_instrument)";
    // A thermometer that is known here is believed as it is here.
    const UNKNOWN: &str = "NOT IN (SELECT id FROM main.thermometer)";
    let pieces = format!("IN (SELECT id FROM incoming.piece WHERE cook_id {COOKS})");
    let bags = format!("IN (SELECT id FROM incoming.bag WHERE cook_id {COOKS})");
    let tables = [
        ("who", "kitchen_id", "IS NOT NULL"),
        ("thermometer_check", "thermometer_id", UNKNOWN),
        ("thermometer", "id", UNKNOWN),
        ("bath", "id", BATHS),
        ("bath_setting", "bath_id", BATHS),
        ("water_event", "bath_id", BATHS),
        ("cook", "id", COOKS),
        ("piece", "cook_id", COOKS),
        ("plan", "piece_id", &pieces),
        ("bag", "cook_id", COOKS),
        ("bag_piece", "bag_id", &bags),
        ("event", "cook_id", COOKS),
        ("storage", "id", STORAGES),
        ("instrument", "id", INSTRUMENTS),
        ("reading", "instrument_id", INSTRUMENTS),
        ("reading_minute", "instrument_id", INSTRUMENTS),
        ("reading_pack", "instrument_id", INSTRUMENTS),
    ];
    for (table, key, which) in tables {
        let mut columns = tx.prepare("SELECT name FROM pragma_table_info(?1)")?;
        let columns: Vec<String> = columns.query_map([table], |r| r.get(0))?.collect::<Result<_, _>>()?;
        // Rows that are numbered as they come get numbers of here, in the order they had.
        let order = if columns.iter().any(|c| c == "seq") { "ORDER BY seq" } else { "" };
        let columns: Vec<&str> = columns.iter().map(String::as_str).filter(|c| *c != "seq").collect();
        let columns = columns.join(", ");
        let or = if matches!(table, "thermometer_check" | "who") { "OR IGNORE" } else { "" };
        tx.execute(
            &format!(
                "INSERT {or} INTO main.{table} ({columns}) SELECT {columns} FROM incoming.{table} WHERE {key} {which} {order}"
            ),
            [],
        )?;
    }
    Ok(())
}

/// Brings a cook in that is here already; whether anything of it was new, or why it cannot be.
fn merge(
    c: &Connection,
    actor: &Actor,
    cook: &CookRecord,
    import: Uuid,
) -> Result<Result<bool, String>, StoreError> {
    let here = load(c, actor.kitchen, cook.id)?.ok_or(StoreError::NotFound)?;
    let new: Vec<_> =
        cook.events.iter().filter(|e| here.events.iter().all(|h| h.event.id != e.event.id)).collect();
    let state = here.state();
    if CookPhase::of(&state) == CookPhase::UnderWay {
        return Ok(if new.is_empty() {
            Ok(false)
        } else {
            Err("it is under way here, and an import never adds to that: its own events are what counts"
                .into())
        });
    }
    // What happened here and what the file adds must be able to have happened together, in this order.
    let together = new.iter().map(|e| &e.event).try_fold(state, |state, event| state.apply(event));
    if let Err(refusal) = together {
        return Ok(Err(refusal.to_string()));
    }
    c.execute_batch("SAVEPOINT cook")?;
    let rows = written(insert(c, actor, cook, Some(import)))?;
    c.execute_batch(if rows.is_ok() { "RELEASE cook" } else { "ROLLBACK TO cook; RELEASE cook" })?;
    Ok(rows.map(|rows| rows > 0))
}

/// A clash of records is the file's fault, anything else the database's.
fn written(rows: Result<usize, StoreError>) -> Result<Result<usize, String>, StoreError> {
    match rows {
        Ok(rows) => Ok(Ok(rows)),
        Err(StoreError::Database(e))
            if e.sqlite_error_code() == Some(rusqlite::ErrorCode::ConstraintViolation) =>
        {
            Ok(Err(format!("it clashes with a record here: {e}")))
        }
        Err(e) => Err(e),
    }
}

impl Taker for Beside {
    type Error = StoreError;

    fn kitchen(&mut self, kitchen: KitchenRecord) -> Result<(), StoreError> {
        self.kitchen = kitchen;
        self.kitchen.history.clear();
        for storage in &self.kitchen.storages {
            keep::insert(&self.c, self.actor.kitchen, storage)?;
        }
        Ok(())
    }

    fn wants(&mut self, cook: &CookRecord) -> Result<Result<(), Unfit>, StoreError> {
        if CookPhase::of(&cook.state()) == CookPhase::UnderWay && !self.is_here("cook", cook.id)? {
            if self.under_way >= MOST_UNDER_WAY {
                return Ok(Err(format!(
                    "{} cooks are under way here, and more than {MOST_UNDER_WAY} cannot be: finish or remove some, then import again",
                    self.under_way
                )
                .into()));
            }
            self.under_way += 1;
        }
        Ok(Ok(()))
    }

    fn cook(&mut self, cook: CookRecord) -> Result<Result<(), Unfit>, StoreError> {
        let (actor, import) = (self.actor.clone(), self.import);
        self.whole(|c| insert(c, &actor, &cook, Some(import)))
    }

    fn bath(&mut self, record: BathRecord) -> Result<Result<(), Unfit>, StoreError> {
        let kitchen = self.actor.kitchen;
        self.whole(|c| bath::insert(c, kitchen, &record))
    }

    fn hour(&mut self, hour: HourRecord) -> Result<(), StoreError> {
        self.portion()?;
        insert_hour(&self.c, &hour)
    }
}
