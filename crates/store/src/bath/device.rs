//! Devices that report readings: made with a token that is shown once and kept hashed, laid into a bath, revoked.

use hold_steady_core::bath::{NotTaken, Report, Reported};
use hold_steady_core::book::{DeviceRecord, REPORTED, SettingRecord, derived_id};
use hold_steady_core::limits::MOST_DEVICES;
use hold_steady_core::units::Celsius;
use hold_steady_core::who::{By, Deed};
use jiff::{SignedDuration, Timestamp};
use rusqlite::{Connection, OptionalExtension};
use uuid::Uuid;

use super::{ReadingRow, Writing, Written, insert_setting, instrument, running};
use crate::door::done;
use crate::rows::storage_is_ours;
use crate::time::At;
use crate::who::{COLUMNS, told, who};
use crate::{Actor, InKitchen, Role, Store, StoreError, secret};

/// A device of a kitchen.
#[derive(Debug, Clone, PartialEq)]
pub struct Device {
    /// Which.
    pub id: Uuid,
    /// What it is called.
    pub name: String,
    /// The thermometer it is: its checks come off its readings.
    pub thermometer: Uuid,
    /// When it was made known.
    pub created_at: Timestamp,
    /// By whom.
    pub created_by: By,
    /// From when on its token counts no more.
    pub revoked_at: Option<Timestamp>,
    /// Until when its token counts; for good without.
    pub until: Option<Timestamp>,
    /// The address it last reported from.
    pub address: Option<String>,
    /// When it last reported.
    pub heard_at: Option<Timestamp>,
    /// Seconds by which the newest of what it reported last was ahead of this machine’s clock (below zero: behind); as it was
    /// sent. Nothing where it sends no times.
    pub ahead_s: Option<f64>,
    /// Seconds its clock is said to be ahead: taken off the times it sends.
    pub offset_s: f64,
    /// Where it lies.
    pub lies_in: Option<Lies>,
}

/// Where a device lies.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Lies {
    /// In a bath.
    Bath {
        /// Which.
        bath: Uuid,
        /// The piece it is stuck into; in the water where it is in none.
        piece: Option<Uuid>,
        /// Somebody confirmed that its tip is at the piece's thermal centre.
        centred: bool,
    },
    /// In a refrigerator, a freezer or the room.
    Storage(Uuid),
}

impl Lies {
    /// In the water of a bath.
    #[must_use]
    pub const fn water(bath: Uuid) -> Self {
        Self::Bath { bath, piece: None, centred: false }
    }

    /// The bath it lies in.
    #[must_use]
    pub const fn bath(self) -> Option<Uuid> {
        match self {
            Self::Bath { bath, .. } => Some(bath),
            Self::Storage(_) => None,
        }
    }

    /// The refrigerator, freezer or room it lies in.
    #[must_use]
    pub const fn storage(self) -> Option<Uuid> {
        match self {
            Self::Storage(storage) => Some(storage),
            Self::Bath { .. } => None,
        }
    }

    /// It lies in the water of this bath, and in no piece.
    #[must_use]
    pub fn in_water_of(self, of: Uuid) -> bool {
        matches!(self, Self::Bath { bath, piece: None, .. } if bath == of)
    }
}

/// The devices of a kitchen, wherever they lie.
fn all(c: &Connection, kitchen: Uuid) -> Result<Vec<Device>, StoreError> {
    let mut rows = c.prepare_cached(&format!(
        "SELECT d.id, d.name, d.thermometer_id, d.created_at, d.revoked_at, d.heard_at, d.ahead_s, d.offset_s, {COLUMNS}, d.until_at, d.address
         FROM device d JOIN who w ON w.id = d.who_id WHERE d.kitchen_id = ?1 ORDER BY d.created_at, d.id"
    ))?;
    let device = |r: &rusqlite::Row<'_>| {
        let (created, revoked, heard): (At, Option<At>, Option<At>) = (r.get(3)?, r.get(4)?, r.get(5)?);
        Ok(Device {
            id: r.get(0)?,
            name: r.get(1)?,
            thermometer: r.get(2)?,
            created_at: created.0,
            created_by: told(r, 8)?,
            revoked_at: revoked.map(|t| t.0),
            until: r.get::<_, Option<At>>(12)?.map(|t| t.0),
            address: r.get(13)?,
            heard_at: heard.map(|t| t.0),
            ahead_s: r.get(6)?,
            offset_s: r.get(7)?,
            lies_in: None,
        })
    };
    Ok(rows.query_map([kitchen], device)?.collect::<Result<_, _>>()?)
}

/// The devices of a kitchen as an export says them: without their tokens.
pub(crate) fn all_devices(c: &Connection, kitchen: Uuid) -> Result<Vec<DeviceRecord>, StoreError> {
    let told = |d: Device| DeviceRecord {
        id: d.id,
        name: d.name,
        thermometer: d.thermometer,
        created_at: d.created_at,
        created_by: d.created_by,
        revoked_at: d.revoked_at,
    };
    Ok(all(c, kitchen)?.into_iter().map(told).collect())
}

/// What became of a report.
#[derive(Debug, Clone, Default, PartialEq)]
pub struct Received {
    /// Readings written down.
    pub taken: usize,
    /// Readings that were there already.
    pub known: usize,
    /// What was not taken, by its place, with the reason.
    pub not_taken: Vec<NotTaken>,
}

impl Received {
    fn add(&mut self, more: Self) {
        self.taken += more.taken;
        self.known += more.known;
        self.not_taken.extend(more.not_taken);
    }

    /// One more: written down, there already, or too late.
    pub(super) fn count(&mut self, line: usize, written: Written) {
        match written {
            Written::New => self.taken += 1,
            Written::Known => self.known += 1,
            Written::TooLate => {
                let why =
                    "What was read in that hour was thinned to its minutes long ago: it comes too late.";
                self.not_taken.push(NotTaken { line, why: why.into() });
            }
        }
    }
}

fn new_token() -> String {
    format!("hs-{}", secret::new())
}

impl Store {
    /// The device that has a token; `None` where none has it, it was revoked, or its time ran out.
    ///
    /// # Errors
    /// When the database fails.
    pub async fn as_device(&self, token: &str, now: Timestamp) -> Result<Option<Reporter>, StoreError> {
        let hash = secret::hashed(token);
        let found = self.with(move |c| {
            let mut q = c.prepare_cached(
                "SELECT id, kitchen_id, name, offset_s, address FROM device
                 WHERE token_sha256 = ?1 AND revoked_at IS NULL AND (until_at IS NULL OR until_at > ?2)",
            )?;
            type Row = (Uuid, Uuid, String, f64, Option<String>);
            let row = |r: &rusqlite::Row<'_>| Ok((r.get(0)?, r.get(1)?, r.get(2)?, r.get(3)?, r.get(4)?));
            let row: Option<Row> = q.query_row((hash, At(now)), row).optional()?;
            Ok(row)
        });
        let found = found.await?;
        Ok(found.map(|(device, kitchen, name, offset_s, address)| {
            let here = self.in_kitchen(Actor { kitchen, by: By::nobody(&name), role: Role::Device });
            let offset = SignedDuration::try_from_secs_f64(offset_s).unwrap_or_default();
            Reporter { here, device, offset, address }
        }))
    }
}

/// A device that reports, as it reaches its kitchen.
pub struct Reporter {
    /// The kitchen.
    pub here: InKitchen,
    /// The device.
    pub device: Uuid,
    /// So much its clock is ahead, as it was told.
    pub offset: SignedDuration,
    /// The address it reported from before.
    pub address: Option<String>,
}

impl InKitchen {
    /// Makes a device known: its token, which is shown this once. It is the thermometer of that name, with its checks, where
    /// there is one that no other device is (one that was revoked, or read by hand so far); else one comes with it. Its token
    /// counts until the instant given, or for good.
    ///
    /// # Errors
    /// When the name is taken, there are too many, or the database fails.
    pub async fn make_device(
        &self,
        id: Uuid,
        name: String,
        until: Option<Timestamp>,
        now: Timestamp,
    ) -> Result<String, StoreError> {
        let token = new_token();
        let hash = secret::hashed(&token);
        self.writing(move |c, actor| {
            if crate::rows::exists(c, "device", id)? {
                let text = "This device is known already; its token was shown then. Revoke it and make it known anew.";
                return Err(StoreError::Conflict(text.into()));
            }
            let thermometer = thermometer_of(c, actor, id, &name, now)?;
            let here: i64 = c.query_row(
                "SELECT count(*) FROM device WHERE kitchen_id = ?1 AND revoked_at IS NULL",
                [actor.kitchen],
                |r| r.get(0),
            )?;
            if here >= crate::rows::most(MOST_DEVICES) {
                let text = format!("{MOST_DEVICES} devices are known, the most there can be. Revoke one first.");
                return Err(StoreError::Conflict(text));
            }
            c.execute(
                "INSERT INTO device (id, kitchen_id, name, thermometer_id, token_sha256, created_at, who_id, until_at) VALUES (?1, ?2, ?3, ?4, ?5, ?6, ?7, ?8)",
                (id, actor.kitchen, &name, thermometer, hash, At(now), actor.who(c)?, until.map(At)),
            )?;
            done(c, actor, &Deed::DeviceMade { name, until }, now)
        })
        .await?;
        Ok(token)
    }

    /// Makes another token for a device: the one before counts no more.
    ///
    /// # Errors
    /// When it is not there, was revoked, or the database fails.
    pub async fn renew_device(
        &self,
        id: Uuid,
        until: Option<Timestamp>,
        now: Timestamp,
    ) -> Result<String, StoreError> {
        let token = new_token();
        let hash = secret::hashed(&token);
        self.writing(move |c, actor| {
            let (name, _) = known(c, actor, id)?;
            let written = c.execute(
                "UPDATE device SET token_sha256 = ?3, until_at = ?4 WHERE id = ?1 AND kitchen_id = ?2 AND revoked_at IS NULL",
                (id, actor.kitchen, hash, until.map(At)),
            )?;
            if written == 0 {
                return Err(StoreError::Conflict("This device was revoked. Make it known anew under another name.".into()));
            }
            done(c, actor, &Deed::DeviceRenewed { name, until }, now)
        })
        .await?;
        Ok(token)
    }

    /// Its token counts no more. What it read stays.
    ///
    /// # Errors
    /// When it is not there or the database fails.
    pub async fn revoke_device(&self, id: Uuid, now: Timestamp) -> Result<(), StoreError> {
        self.writing(move |c, actor| {
            let (name, _) = known(c, actor, id)?;
            let written = c.execute(
                "UPDATE device SET revoked_at = ?3, revoked_who_id = ?4 WHERE id = ?1 AND kitchen_id = ?2 AND revoked_at IS NULL",
                (id, actor.kitchen, At(now), actor.who(c)?),
            )?;
            // Sent twice, it was revoked once.
            if written == 0 { Ok(()) } else { done(c, actor, &Deed::DeviceRevoked { name }, now) }
        })
        .await
    }

    /// Tells by how many seconds a device's clock is ahead (below zero: behind): taken off the times it sends from then on.
    /// What it sent before stays as it was written down.
    ///
    /// # Errors
    /// When it is not there or the database fails.
    pub async fn set_device_clock(&self, id: Uuid, ahead_s: f64, now: Timestamp) -> Result<(), StoreError> {
        self.writing(move |c, actor| {
            let (name, _) = known(c, actor, id)?;
            c.execute(
                "UPDATE device SET offset_s = ?3, ahead_s = NULL WHERE id = ?1 AND kitchen_id = ?2",
                (id, actor.kitchen, ahead_s),
            )?;
            done(c, actor, &Deed::DeviceClock { name, ahead_s }, now)
        })
        .await
    }

    /// Lays a device into a bath, sticks it into a piece there, or lays it into a refrigerator or a freezer, or takes it out of all: what it reads from then on is read
    /// of that.
    ///
    /// # Errors
    /// When it or the bath is not there, the bath was emptied, or the database fails.
    pub async fn place_device(&self, id: Uuid, lies: Option<Lies>, now: Timestamp) -> Result<(), StoreError> {
        self.writing(move |c, actor| {
            known(c, actor, id)?;
            match lies {
                Some(Lies::Bath { bath, piece, .. }) => {
                    running(c, actor, bath)?;
                    if let Some(piece) = piece {
                        let here = "SELECT 1 FROM piece WHERE id = ?1 AND kitchen_id = ?2";
                        let found = c.query_row(here, (piece, actor.kitchen), |_| Ok(())).optional()?;
                        found.ok_or(StoreError::NotFound)?;
                    }
                }
                Some(Lies::Storage(storage)) => storage_is_ours(c, actor.kitchen, storage)?,
                None => {}
            }
            if lies_in(c, id, now)? == lies {
                return Ok(());
            }
            // What it says of its heater is said of another bath now.
            c.execute("UPDATE device SET set_c = NULL WHERE id = ?1", [id])?;
            let (bath, piece, centred, storage) = match lies {
                Some(Lies::Bath { bath, piece, centred }) => (Some(bath), piece, centred && piece.is_some(), None),
                Some(Lies::Storage(storage)) => (None, None, false, Some(storage)),
                None => (None, None, false, None),
            };
            c.execute(
                "INSERT INTO device_place (kitchen_id, device_id, bath_id, piece_id, centred, storage_id, at, who_id) VALUES (?1, ?2, ?3, ?4, ?5, ?6, ?7, ?8)",
                (actor.kitchen, id, bath, piece, centred, storage, At(now), actor.who(c)?),
            )?;
            Ok(())
        })
        .await
    }

    /// The devices of a kitchen, in the order they were made known; those revoked too.
    ///
    /// # Errors
    /// When the database fails.
    pub async fn devices(&self) -> Result<Vec<Device>, StoreError> {
        self.with(|c, actor| {
            let mut all = all(c, actor.kitchen)?;
            for device in &mut all {
                device.lies_in = lies_in(c, device.id, Timestamp::MAX)?;
            }
            Ok(all)
        })
        .await
    }

    /// A device reports from another address than before.
    ///
    /// # Errors
    /// When the database fails.
    pub async fn reported_from(&self, device: Uuid, address: String) -> Result<(), StoreError> {
        self.reporting(move |c, _| {
            c.execute("UPDATE device SET address = ?2 WHERE id = ?1", (device, address))?;
            Ok(())
        })
        .await
    }

    /// Writes down what a device reports: each reading of the bath it lay in then. Reported again, nothing is written twice.
    ///
    /// # Errors
    /// When the device is not there or the database fails.
    pub async fn report(&self, device: Uuid, report: Report, now: Timestamp) -> Result<Received, StoreError> {
        let Report { readings, not_taken, set, ahead, .. } = report;
        let mut all = Received { not_taken, ..Received::default() };
        // In portions: what somebody taps meanwhile does not wait for a day of seconds. What is usual is one transaction.
        let mut portions: Vec<Vec<Reported>> = readings.chunks(AT_ONCE).map(<[_]>::to_vec).collect();
        let last = portions.pop().unwrap_or_default();
        for portion in portions {
            all.add(self.reporting(move |c, actor| written_down(c, actor, device, &portion, now)).await?);
        }
        let received = self.reporting(move |c, actor| {
            let received = written_down(c, actor, device, &last, now)?;
            if let Some(celsius) = set {
                set_by_itself(c, actor, device, celsius, now)?;
            }
            let mut heard = c.prepare_cached(
                "UPDATE device SET heard_at = ?2, ahead_s = coalesce(?3, ahead_s) WHERE id = ?1",
            )?;
            heard.execute((device, At(now), ahead.map(|a| a.as_secs_f64())))?;
            Ok(received)
        });
        all.add(received.await?);
        all.not_taken.sort_by_key(|n| n.line);
        Ok(all)
    }
}

/// Readings of a device written in one transaction.
const AT_ONCE: usize = 1000;

fn written_down(
    c: &Connection,
    actor: &Actor,
    device: Uuid,
    readings: &[Reported],
    now: Timestamp,
) -> Result<Received, StoreError> {
    let (name, thermometer) = known(c, actor, device)?;
    let (mut received, mut writing) = (Received::default(), Writing::default());
    let who = who(c, actor.kitchen, &By::nobody(&name))?;
    let mut last: Option<(Lies, Uuid)> = None;
    for r in readings {
        let at = r.at.unwrap_or(now);
        let lies = match lay_then(c, device, at)? {
            Ok(lies) => lies,
            Err(why) => {
                received.not_taken.push(NotTaken { line: r.line, why: why.into() });
                continue;
            }
        };
        let instrument = match last.filter(|l| l.0 == lies) {
            Some((_, known)) => known,
            None => instrument(c, actor.kitchen, &name, lies, thermometer)?,
        };
        last = Some((lies, instrument));
        let row = ReadingRow { instrument, at, celsius: r.celsius, quality: REPORTED };
        received.count(r.line, writing.reading(c, &row, Some((now, who)))?);
    }
    writing.end(c)?;
    Ok(received)
}

/// The setting a device says its heater has, where that is another than is written down.
fn set_by_itself(
    c: &Connection,
    actor: &Actor,
    device: Uuid,
    celsius: Celsius,
    now: Timestamp,
) -> Result<(), StoreError> {
    const SAME_K: f64 = 0.05;
    let Ok(Lies::Bath { bath, piece: None, .. }) = lay_then(c, device, now)? else { return Ok(()) };
    let mut said = c.prepare_cached("UPDATE device SET set_c = ?2 WHERE id = ?1 AND set_c IS NOT ?2")?;
    let anew = said.execute((device, celsius.value()))? > 0;
    // Of two devices that say different things in one bath each says its own once, not again with every report.
    let last: Option<(f64, bool)> = c
        .query_row(
            "SELECT s.celsius, EXISTS (SELECT 1 FROM device d WHERE d.kitchen_id = ?2 AND d.name = w.name AND d.id <> ?3)
             FROM bath_setting s JOIN who w ON w.id = s.who_id WHERE s.bath_id = ?1 ORDER BY s.at DESC, s.seq DESC LIMIT 1",
            (bath, actor.kitchen, device),
            |r| Ok((r.get(0)?, r.get(1)?)),
        )
        .optional()?;
    let last = match last {
        Some((_, true)) if !anew => return Ok(()),
        last => last.map(|l| l.0),
    };
    if last.is_none_or(|c| (c - celsius.value()).abs() > SAME_K) {
        let setting = SettingRecord { id: crate::new_id(now), at: now, celsius, by: actor.by.clone() };
        insert_setting(c, actor.kitchen, bath, &setting)?;
    }
    Ok(())
}

/// The thermometer a device of a name is.
fn thermometer_of(
    c: &Connection,
    actor: &Actor,
    device: Uuid,
    name: &str,
    now: Timestamp,
) -> Result<Uuid, StoreError> {
    let known = "SELECT id FROM thermometer WHERE kitchen_id = ?1 AND name = ?2 ORDER BY removed_at IS NULL DESC, created_at DESC LIMIT 1";
    let known: Option<Uuid> = c.query_row(known, (actor.kitchen, name), |r| r.get(0)).optional()?;
    let Some(known) = known else {
        let id = derived_id(device, "thermometer");
        super::equipment::keep_probe(c, actor, id, name, now)?;
        return Ok(id);
    };
    let used = "SELECT 1 FROM device WHERE thermometer_id = ?1 AND revoked_at IS NULL";
    if c.query_row(used, [known], |_| Ok(())).optional()?.is_some() {
        let text = format!("“{name}” is here already. Give a name that tells the two apart.");
        return Err(StoreError::Conflict(text));
    }
    super::equipment::keep_probe(c, actor, known, name, now)?;
    Ok(known)
}

/// Name and thermometer of a device of this kitchen.
fn known(c: &Connection, actor: &Actor, id: Uuid) -> Result<(String, Uuid), StoreError> {
    let sql = "SELECT name, thermometer_id FROM device WHERE id = ?1 AND kitchen_id = ?2";
    let mut q = c.prepare_cached(sql)?;
    q.query_row((id, actor.kitchen), |r| Ok((r.get(0)?, r.get(1)?))).optional()?.ok_or(StoreError::NotFound)
}

/// Where a device lay at an instant, as it was laid last before.
fn lies_in(c: &Connection, device: Uuid, at: Timestamp) -> Result<Option<Lies>, StoreError> {
    let sql = "SELECT bath_id, piece_id, centred, storage_id FROM device_place WHERE device_id = ?1 AND at <= ?2 ORDER BY at DESC, seq DESC LIMIT 1";
    // To the second, as its readings are.
    const A_SECOND_US: i64 = 1_000_000;
    let mut q = c.prepare_cached(sql)?;
    type Row = (Option<Uuid>, Option<Uuid>, bool, Option<Uuid>);
    let row: Option<Row> = q
        .query_row((device, at.as_microsecond().saturating_add(A_SECOND_US - 1)), |r| {
            Ok((r.get(0)?, r.get(1)?, r.get(2)?, r.get(3)?))
        })
        .optional()?;
    Ok(row.and_then(|(bath, piece, centred, storage)| match (bath, storage) {
        (Some(bath), _) => Some(Lies::Bath { bath, piece, centred }),
        (None, storage) => storage.map(Lies::Storage),
    }))
}

/// Where a device lay at an instant, or why nothing can be read of it.
fn lay_then(c: &Connection, device: Uuid, at: Timestamp) -> Result<Result<Lies, &'static str>, StoreError> {
    let Some(lies) = lies_in(c, device, at)? else {
        return Ok(Err("The device lay in no bath then: lay it into one on the board."));
    };
    let Lies::Bath { bath, .. } = lies else { return Ok(Ok(lies)) };
    let mut q = c.prepare_cached("SELECT ended_at FROM bath WHERE id = ?1")?;
    let ended: Option<At> = q.query_row([bath], |r| r.get(0))?;
    if ended.is_some_and(|end| at > end.0) {
        return Ok(Err("The bath it lay in was emptied before that: lay it into another on the board."));
    }
    Ok(Ok(lies))
}
