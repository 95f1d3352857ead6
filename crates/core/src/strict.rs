//! JSON looked through before it is read: no key given twice in one object (of two values for one name nobody knows which is
//! meant), and of a record nothing that no record here can have.

use std::cell::Cell;
use std::collections::BTreeSet;
use std::fmt;

use serde::de::{DeserializeSeed, Deserializer, Error, MapAccess, SeqAccess, Visitor};

use crate::Unfit;
use crate::units::shortened;

/// Whether something is as it is where nobody said: then it is left out of a record.
pub(crate) fn is_usual<T: Default + PartialEq>(value: &T) -> bool {
    *value == T::default()
}

/// Looks through a text for keys given twice in one object.
///
/// # Errors
/// With line and column, when the text is not JSON or a key is there twice.
pub(crate) fn check(text: &str) -> Result<(), serde_json::Error> {
    look(text, &Bounds { largest: f64::INFINITY, longest: usize::MAX, left: Cell::new(usize::MAX) })
}

/// Looks through a record as [`check`], and for numbers above `largest`, texts of more bytes than `longest`, and values without
/// end (two bytes of a text can be thirty of memory), wherever they stand.
///
/// # Errors
/// With where in the record that is, and why.
pub(crate) fn sane(text: &str, largest: f64, longest: usize) -> Result<(), Unfit> {
    // Records of ours have some sixteen bytes a value; short ones may have fewer.
    let left = Cell::new(200_000 + text.len() / 16);
    look(text, &Bounds { largest, longest, left }).map_err(|e| {
        let text = e.to_string();
        text.split_once(" at line ").map_or_else(|| text.clone(), |(what, _)| what.to_owned()).into()
    })
}

fn look(text: &str, within: &Bounds) -> Result<(), serde_json::Error> {
    let mut text = serde_json::Deserializer::from_str(text);
    Look { within, at: At(None) }.deserialize(&mut text)?;
    text.end()
}

struct Bounds {
    largest: f64,
    longest: usize,
    /// How many values more there may be.
    left: Cell<usize>,
}

/// A place in a record: a field, and what it is a field of.
#[derive(Clone, Copy)]
struct At<'a>(Option<(&'a At<'a>, &'a str)>);

impl fmt::Display for At<'_> {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        match self.0 {
            Some((of, field)) => write!(f, "{of}/{}", shortened(field)),
            None => Ok(()),
        }
    }
}

/// Looks at a value at a place.
#[derive(Clone, Copy)]
struct Look<'a> {
    within: &'a Bounds,
    at: At<'a>,
}

impl Look<'_> {
    fn number<E: Error>(self, n: f64, shown: impl fmt::Display) -> Result<(), E> {
        if n.abs() > self.within.largest {
            return Err(E::custom(format!("{}: {shown} cannot be", self.at)));
        }
        Ok(())
    }
}

impl<'de> DeserializeSeed<'de> for Look<'_> {
    type Value = ();

    fn deserialize<D: Deserializer<'de>>(self, d: D) -> Result<(), D::Error> {
        let too_many = || D::Error::custom("it holds more values than any record here");
        self.within.left.set(self.within.left.get().checked_sub(1).ok_or_else(too_many)?);
        d.deserialize_any(self)
    }
}

impl<'de> Visitor<'de> for Look<'_> {
    type Value = ();

    fn expecting(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        f.write_str("a JSON value")
    }

    fn visit_bool<E>(self, _: bool) -> Result<(), E> {
        Ok(())
    }

    fn visit_i64<E: Error>(self, n: i64) -> Result<(), E> {
        self.number(n as f64, n)
    }

    fn visit_u64<E: Error>(self, n: u64) -> Result<(), E> {
        self.number(n as f64, n)
    }

    fn visit_f64<E: Error>(self, n: f64) -> Result<(), E> {
        self.number(n, format_args!("{n:?}"))
    }

    fn visit_str<E: Error>(self, text: &str) -> Result<(), E> {
        let longest = self.within.longest;
        if text.len() > longest {
            let (at, bytes) = (self.at, text.len());
            return Err(E::custom(format!("{at}: a text of {bytes} bytes; at most {longest} are taken")));
        }
        Ok(())
    }

    fn visit_unit<E>(self) -> Result<(), E> {
        Ok(())
    }

    fn visit_seq<A: SeqAccess<'de>>(self, mut items: A) -> Result<(), A::Error> {
        while items.next_element_seed(self)?.is_some() {}
        Ok(())
    }

    fn visit_map<A: MapAccess<'de>>(self, mut fields: A) -> Result<(), A::Error> {
        let mut seen = BTreeSet::new();
        while let Some(key) = fields.next_key::<String>()? {
            if seen.contains(&key) {
                return Err(A::Error::custom(format!("“{}” is given twice; give it once", shortened(&key))));
            }
            fields.next_value_seed(Look { within: self.within, at: At(Some((&self.at, &key))) })?;
            seen.insert(key);
        }
        Ok(())
    }
}

#[cfg(test)]
mod tests {
    use super::{check, sane};

    #[test]
    fn what_nothing_here_can_have_is_named_where_it_stands() {
        let said = |text: &str| sane(text, 1e7, 10).expect_err(text).to_string();
        assert!(sane(r#"{"a": [1, -9999999.5, null, true], "b": {"c": "ten bytes."}}"#, 1e7, 10).is_ok());
        assert_eq!(said(r#"{"a": [{"b": 1e308}]}"#), "/a/b: 1e308 cannot be");
        assert_eq!(said(r#"{"a": -10000001}"#), "/a: -10000001 cannot be");
        assert_eq!(said(r#"["eleven byte"]"#), ": a text of 11 bytes; at most 10 are taken");
        assert_eq!(said(r#"{"x": {"a": 1, "a": 1}}"#), "“a” is given twice; give it once");
        assert!(said("{").contains("EOF"));
        let many = |n: usize| format!("[{}0]", "0,".repeat(n));
        assert!(sane(&many(200_000), 1e7, 10).is_ok());
        assert!(said(&many(300_000)).contains("more values than any record"));
    }

    #[test]
    fn a_key_given_twice_is_named_wherever_it_is() {
        assert!(check(r#"{"a": 1, "b": [{"a": 1}, {"a": 2}], "c": {"a": null}}"#).is_ok());
        for text in [r#"{"a": 1, "a": 1}"#, r#"[{"b": {"a": true, "x": 1.5, "a": "two"}}]"#] {
            let e = check(text).expect_err("doubled").to_string();
            assert!(e.contains("“a” is given twice") && e.contains("line 1"), "{e}");
        }
        // The same name, spelt with an escape.
        assert!(check(r#"{"thickness_mm": 250, "thickness\u005fmm": 20}"#).is_err());
        assert!(check("{").is_err());
    }
}
