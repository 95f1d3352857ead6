//! Instants as they stand in the file: whole microseconds since 1970, UTC.

use jiff::Timestamp;
use rusqlite::ToSql;
use rusqlite::types::{FromSql, FromSqlError, FromSqlResult, ToSqlOutput, ValueRef};

/// An instant, to be written and read.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord)]
pub(crate) struct At(pub Timestamp);

impl ToSql for At {
    fn to_sql(&self) -> rusqlite::Result<ToSqlOutput<'_>> {
        Ok(self.0.as_microsecond().into())
    }
}

impl FromSql for At {
    fn column_result(value: ValueRef<'_>) -> FromSqlResult<Self> {
        let micros = value.as_i64()?;
        Timestamp::from_microsecond(micros).map(Self).map_err(|_| FromSqlError::OutOfRange(micros))
    }
}
