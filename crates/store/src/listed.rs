//! What stands on a kitchen's lists: nothing is ever deleted, it is taken off and can be put back.

use rusqlite::ToSql;
use rusqlite::types::ToSqlOutput;

/// What becomes of a row of a list.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Put {
    /// Taken off.
    Off,
    /// Put back on.
    Back,
}

impl Put {
    pub(crate) fn is_off(self) -> bool {
        self == Self::Off
    }
}

/// Which rows of a list are meant.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(crate) enum Which {
    /// Those that stand on it.
    Listed,
    /// Those that were taken off too.
    Ever,
}

/// Whether rows that were taken off are meant too.
impl ToSql for Which {
    fn to_sql(&self) -> rusqlite::Result<ToSqlOutput<'_>> {
        Ok((*self == Self::Ever).into())
    }
}
