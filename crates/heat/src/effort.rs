//! How much one question may be computed for, and the way to stop it.
//!
//! A small request can ask for hours of computing: a bath that zigzags makes the solver begin anew at every
//! corner, a search multiplies that. So whoever answers strangers gives each question an [`Effort`]; every step
//! of every simulation made within it is counted, and the one too many is refused. Cells times steps are
//! counted, not seconds: the same question is refused on every machine, or on none.

use std::cell::RefCell;
use std::sync::Arc;
use std::sync::atomic::{AtomicBool, AtomicU64, Ordering};

use super::HeatError;

/// The most one question to a server may cost, in cells times steps ([`crate::Effort`]): less than a second of one
/// core. A slab of 25 mm takes about 5,000, a large frozen block with its way out 4 million.
pub const MOST_EFFORT: u64 = 4_200_000;

/// What one question may cost, in cells times steps. Clones share one count.
///
/// ```
/// use hold_steady_heat::BathTrace;
/// use hold_steady_heat::*;
/// let meat = Material::constant(1.4e-7, 0.48);
/// let mesh = Mesh::graded(Shape::Slab(Length::from_mm(25.0)), DEFAULT_CELLS);
/// let bath = Surface { coefficient: 95.0, bath: BathTrace::constant(55.0) };
/// let problem = Problem::uniform(mesh, &meat, Initial::Uniform(5.0), bath);
/// let effort = Effort::of(1_000_000);
/// effort.within(|| simulate(&problem, 7200.0, &[]))?;
/// assert!((1_000..100_000).contains(&effort.spent()));
/// let little = Effort::of(100);
/// assert_eq!(little.within(|| simulate(&problem, 7200.0, &[])), Err(HeatError::TooMuch(100)));
/// # Ok::<(), HeatError>(())
/// ```
#[derive(Debug, Clone)]
pub struct Effort(Arc<Shared>);

#[derive(Debug)]
struct Shared {
    limit: u64,
    spent: AtomicU64,
    stopped: AtomicBool,
}

thread_local! {
    /// The question being answered on this thread.
    static CURRENT: RefCell<Option<Effort>> = const { RefCell::new(None) };
}

impl Effort {
    /// At most so many cells times steps.
    ///
    /// ```
    /// assert_eq!(hold_steady_heat::Effort::of(100).spent(), 0);
    /// ```
    #[must_use]
    pub fn of(limit: u64) -> Self {
        Self(Arc::new(Shared { limit, spent: AtomicU64::new(0), stopped: AtomicBool::new(false) }))
    }

    /// What was spent so far.
    ///
    /// ```
    /// assert_eq!(hold_steady_heat::Effort::of(100).spent(), 0);
    /// ```
    #[must_use]
    pub fn spent(&self) -> u64 {
        self.0.spent.load(Ordering::Relaxed)
    }

    /// Whoever asked is gone: the next step is not taken.
    ///
    /// ```
    /// # use hold_steady_heat::*;
    /// # let meat = Material::constant(1.4e-7, 0.48);
    /// # let mesh = Mesh::graded(Shape::Slab(Length::from_mm(25.0)), DEFAULT_CELLS);
    /// # let bath = Surface { coefficient: 95.0, bath: BathTrace::constant(55.0) };
    /// let problem = Problem::uniform(mesh, &meat, Initial::Uniform(5.0), bath);
    /// let effort = Effort::of(1_000_000);
    /// effort.stop();
    /// assert_eq!(effort.within(|| simulate(&problem, 600.0, &[])), Err(HeatError::Stopped));
    /// ```
    pub fn stop(&self) {
        self.0.stopped.store(true, Ordering::Relaxed);
    }

    /// Does work on this thread whose simulations count here (and not on an effort it stands within).
    ///
    /// ```
    /// # use hold_steady_heat::*;
    /// # let meat = Material::constant(1.4e-7, 0.48);
    /// # let mesh = Mesh::graded(Shape::Slab(Length::from_mm(25.0)), DEFAULT_CELLS);
    /// # let bath = Surface { coefficient: 95.0, bath: BathTrace::constant(55.0) };
    /// let problem = Problem::uniform(mesh, &meat, Initial::Uniform(5.0), bath);
    /// let effort = Effort::of(1_000_000);
    /// effort.within(|| simulate(&problem, 600.0, &[]))?;
    /// assert!(effort.spent() > 0);
    /// # Ok::<(), HeatError>(())
    /// ```
    pub fn within<T>(&self, work: impl FnOnce() -> T) -> T {
        /// Puts the outer one back, also when the work panics.
        struct Back(Option<Effort>);
        impl Drop for Back {
            fn drop(&mut self) {
                CURRENT.set(self.0.take());
            }
        }
        let _back = Back(CURRENT.replace(Some(self.clone())));
        work()
    }

    /// What another thread does for this one counts where this one's does.
    ///
    /// ```
    /// use hold_steady_heat::Effort;
    /// let work = Effort::of(100).within(|| Effort::helping(|| 6 * 7));
    /// assert_eq!(std::thread::spawn(work).join().expect("no panic"), 42);
    /// ```
    pub fn helping<T>(work: impl FnOnce() -> T) -> impl FnOnce() -> T {
        let effort = Self::current();
        move || match effort {
            Some(effort) => effort.within(work),
            None => work(),
        }
    }

    /// Does two things side by side that do not depend on each other; both count on this thread's effort. A panic of
    /// either is this thread's.
    ///
    /// ```
    /// use hold_steady_heat::Effort;
    /// assert_eq!(Effort::of(100).within(|| Effort::beside(|| 6 * 7, || "both")), (42, "both"));
    /// ```
    pub fn beside<A, B: Send>(here: impl FnOnce() -> A, there: impl FnOnce() -> B + Send) -> (A, B) {
        std::thread::scope(|scope| {
            let there = scope.spawn(Self::helping(there));
            (here(), there.join().unwrap_or_else(|panic| std::panic::resume_unwind(panic)))
        })
    }

    fn current() -> Option<Self> {
        CURRENT.with_borrow(Clone::clone)
    }
}

/// A simulation's own hold on the effort it counts on: looked up once, not at every step.
#[derive(Debug)]
pub struct Meter(Option<Effort>);

impl Default for Meter {
    fn default() -> Self {
        Self::new()
    }
}

impl Meter {
    /// The one of the question that is being answered on this thread; without one nothing is counted.
    ///
    /// ```
    /// assert!(hold_steady_heat::Meter::new().step(1_000_000).is_ok());
    /// ```
    #[must_use]
    pub fn new() -> Self {
        Self(Effort::current())
    }

    /// One more step over so many cells.
    ///
    /// ```
    /// use hold_steady_heat::{Effort, HeatError, Meter};
    /// assert_eq!(Effort::of(100).within(|| Meter::new().step(101)), Err(HeatError::TooMuch(100)));
    /// ```
    ///
    /// # Errors
    /// When it is more than the question may cost, or whoever asked is gone.
    pub fn step(&self, cells: usize) -> Result<(), HeatError> {
        let Some(Effort(shared)) = &self.0 else { return Ok(()) };
        let spent = shared.spent.fetch_add(cells as u64, Ordering::Relaxed) + cells as u64;
        if shared.stopped.load(Ordering::Relaxed) {
            return Err(HeatError::Stopped);
        }
        if spent > shared.limit { Err(HeatError::TooMuch(shared.limit)) } else { Ok(()) }
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn what_is_spent_within_counts_once_and_a_stop_is_heeded() {
        let (outer, inner) = (Effort::of(100), Effort::of(10));
        outer.within(|| {
            assert_eq!(Meter::new().step(40), Ok(()));
            inner.within(|| assert_eq!(Meter::new().step(11), Err(HeatError::TooMuch(10))));
            assert_eq!(Meter::new().step(60), Ok(()));
            assert_eq!(Meter::new().step(1), Err(HeatError::TooMuch(100)));
        });
        assert_eq!((outer.spent(), inner.spent()), (101, 11));
        assert_eq!(Meter::new().step(1_000_000), Ok(()), "nobody counts outside");
        let one = Effort::of(1000);
        one.stop();
        assert_eq!(one.within(|| Meter::new().step(1)), Err(HeatError::Stopped));
    }

    #[test]
    fn a_panic_within_leaves_nothing_behind() {
        let effort = Effort::of(10);
        let panicked = std::panic::catch_unwind(|| effort.within(|| panic!("on purpose")));
        assert!(panicked.is_err() && Effort::current().is_none());
    }
}
