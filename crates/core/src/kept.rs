//! What was worked out, kept by what it hangs on, so that the same question is worked out once.

use std::collections::{HashMap, VecDeque};
use std::sync::{Arc, Mutex, MutexGuard, PoisonError};

/// Answers by what they hang on; the oldest are let go.
///
/// ```
/// use hold_steady_core::kept::Kept;
/// let kept = Kept::most(2);
/// let of = |key: &str| kept.of(key.to_owned(), || Ok::<_, ()>(key.len()));
/// assert_eq!(*of("one")?, 3);
/// assert!(std::sync::Arc::ptr_eq(&of("one")?, &of("one")?));
/// of("three")?;
/// of("four")?;
/// assert_eq!(kept.len(), 2);
/// # Ok::<(), ()>(())
/// ```
#[derive(Debug)]
pub struct Kept<T> {
    most: usize,
    shelf: Mutex<Shelf<T>>,
}

#[derive(Debug)]
struct Shelf<T> {
    all: HashMap<String, Arc<T>>,
    /// In the order they were worked out.
    order: VecDeque<String>,
}

impl<T> Kept<T> {
    /// So many at most.
    ///
    /// ```
    /// assert!(hold_steady_core::kept::Kept::<f64>::most(10).is_empty());
    /// ```
    #[must_use]
    pub fn most(most: usize) -> Self {
        Self { most, shelf: Mutex::new(Shelf { all: HashMap::new(), order: VecDeque::new() }) }
    }

    /// What hangs on this key: kept, or worked out now.
    ///
    /// # Errors
    /// As the work does; then nothing is kept.
    ///
    /// ```
    /// let kept = hold_steady_core::kept::Kept::most(2);
    /// assert_eq!(kept.of("a".into(), || Err::<f64, _>("too long")), Err("too long"));
    /// assert_eq!(*kept.of("a".into(), || Ok::<_, &str>(2.0))?, 2.0);
    /// # Ok::<(), &str>(())
    /// ```
    pub fn of<E>(&self, key: String, work: impl FnOnce() -> Result<T, E>) -> Result<Arc<T>, E> {
        if let Some(kept) = self.shelf().all.get(&key) {
            return Ok(kept.clone());
        }
        // Worked out without holding the others up; twice, where two ask at once.
        let found = Arc::new(work()?);
        self.put(key, &found);
        Ok(found)
    }

    /// Keeps what answers another question too.
    pub(crate) fn put(&self, key: String, found: &Arc<T>) {
        let mut shelf = self.shelf();
        if shelf.all.insert(key.clone(), found.clone()).is_none() {
            shelf.order.push_back(key);
            if shelf.order.len() > self.most
                && let Some(oldest) = shelf.order.pop_front()
            {
                shelf.all.remove(&oldest);
            }
        }
    }

    /// How many are kept.
    ///
    /// ```
    /// assert_eq!(hold_steady_core::kept::Kept::<f64>::most(10).len(), 0);
    /// ```
    #[must_use]
    pub fn len(&self) -> usize {
        self.shelf().all.len()
    }

    /// Whether none is.
    ///
    /// ```
    /// assert!(hold_steady_core::kept::Kept::<f64>::most(10).is_empty());
    /// ```
    #[must_use]
    pub fn is_empty(&self) -> bool {
        self.len() == 0
    }

    fn shelf(&self) -> MutexGuard<'_, Shelf<T>> {
        self.shelf.lock().unwrap_or_else(PoisonError::into_inner)
    }
}
