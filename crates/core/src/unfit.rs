//! Why something cannot be, where it is no matter of a blank: of a file, a report of a device, a record.

/// Why a record, a file or a reading cannot be: the field, what it says and what it may say, in words for who sent it.
///
/// ```
/// use hold_steady_core::bath::WaterEventKind;
/// let off = WaterEventKind::TakenOff { litres: -1.0 }.check().expect_err("less than none");
/// assert_eq!(off.to_string(), "-1 l is not from 0.01 to 2000");
/// ```
#[derive(Debug, Clone, PartialEq, Eq, thiserror::Error)]
#[error("{0}")]
pub struct Unfit(String);

impl From<String> for Unfit {
    fn from(why: String) -> Self {
        Self(why)
    }
}

impl From<&str> for Unfit {
    fn from(why: &str) -> Self {
        Self(why.to_owned())
    }
}

impl From<Unfit> for String {
    fn from(unfit: Unfit) -> Self {
        unfit.0
    }
}
