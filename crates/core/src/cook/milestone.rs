//! What happens once in a cook, and how far that is.

/// What happens once in a cook, in the order in which it does.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Hash)]
pub enum Milestone {
    /// Into the bath.
    Dropped,
    /// Out of the bath.
    Pulled,
    /// Patted dry.
    Dried,
    /// Seared.
    Seared,
    /// Cooled to 5 °C.
    Chilled,
    /// On the plate.
    Eaten,
    /// Thrown away.
    Discarded,
}

impl Milestone {
    /// All of them, in their order.
    pub const ALL: [Self; 7] =
        [Self::Dropped, Self::Pulled, Self::Dried, Self::Seared, Self::Chilled, Self::Eaten, Self::Discarded];

    /// What it is called in a sentence.
    #[must_use]
    pub(crate) const fn name(self) -> &'static str {
        match self {
            Self::Dropped => "the drop",
            Self::Pulled => "the pull",
            Self::Dried => "drying",
            Self::Seared => "the sear",
            Self::Chilled => "chilling",
            Self::Eaten => "eating",
            Self::Discarded => "throwing it away",
        }
    }

    /// What must have happened before it.
    pub(super) const fn needs(self) -> Option<Self> {
        match self {
            // What was never cooked can be thrown away too.
            Self::Dropped | Self::Discarded => None,
            Self::Pulled => Some(Self::Dropped),
            // Drying and searing may be left out; the bath may not.
            Self::Dried | Self::Seared | Self::Chilled | Self::Eaten => Some(Self::Pulled),
        }
    }

    pub(super) const fn stage(self) -> Stage {
        match self {
            Self::Dropped => Stage::InBath,
            Self::Pulled => Stage::Pulled,
            Self::Dried => Stage::Dried,
            Self::Seared => Stage::Seared,
            Self::Chilled => Stage::Chilled,
            Self::Eaten => Stage::Eaten,
            Self::Discarded => Stage::Discarded,
        }
    }
}

/// How far a cook has come.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord)]
pub enum Stage {
    /// Planned, not yet in the bath.
    Waiting,
    /// In the bath.
    InBath,
    /// Out of the bath, wet.
    Pulled,
    /// Dry.
    Dried,
    /// Seared.
    Seared,
    /// Chilled; kept cold.
    Chilled,
    /// Eaten; may be rated.
    Eaten,
    /// Thrown away.
    Discarded,
}

impl Stage {
    /// The word in records.
    ///
    /// ```
    /// assert_eq!(hold_steady_core::cook::Stage::InBath.id(), "in-bath");
    /// ```
    #[must_use]
    pub const fn id(self) -> &'static str {
        match self {
            Self::Waiting => "waiting",
            Self::InBath => "in-bath",
            Self::Pulled => "pulled",
            Self::Dried => "dried",
            Self::Seared => "seared",
            Self::Chilled => "chilled",
            Self::Eaten => "eaten",
            Self::Discarded => "discarded",
        }
    }
}
