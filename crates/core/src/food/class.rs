//! What kind of food it is: which rules ask about it.

use serde::{Deserialize, Serialize};

/// Which rows of the verdict table apply to a food.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, Serialize, Deserialize)]
#[serde(rename_all = "kebab-case")]
pub enum FoodClass {
    /// Whole-muscle beef and veal.
    Beef,
    /// Whole-muscle lamb, judged like beef.
    Lamb,
    /// Ground meat, sausage, stuffed and rolled pieces.
    Ground,
    /// Pork and game.
    Pork,
    /// Duck and goose breast.
    Duck,
    /// Chicken, turkey and other poultry.
    Poultry,
    /// Fish.
    Fish,
    /// Crustaceans, scallop adductor, squid, octopus.
    Crustacean,
    /// Mussels, clams, oysters.
    Bivalve,
    /// Egg in its shell.
    ShellEgg,
    /// Pooled egg, custard.
    EggMixture,
    /// Live-culture ferment of milk.
    Ferment,
    /// Dried beans of the species *Phaseolus vulgaris*.
    KidneyBean,
    /// Vegetables and fruit.
    Plant,
}

impl FoodClass {
    /// Whether rows for animal foods apply.
    ///
    /// ```
    /// use hold_steady_core::food::FoodClass;
    /// assert!(FoodClass::Fish.is_animal() && !FoodClass::Plant.is_animal());
    /// ```
    #[must_use]
    pub const fn is_animal(self) -> bool {
        !matches!(self, Self::Plant | Self::KidneyBean)
    }

    /// Whether a pathogen target decides that must be reached in every case (never `serve-now`).
    ///
    /// ```
    /// use hold_steady_core::food::FoodClass;
    /// assert!(FoodClass::Ground.is_mixed_through() && !FoodClass::Beef.is_mixed_through());
    /// ```
    #[must_use]
    pub const fn is_mixed_through(self) -> bool {
        matches!(self, Self::Ground | Self::EggMixture | Self::Ferment)
    }

    /// Which rows of the verdict table it stands under, in words.
    ///
    /// ```
    /// assert_eq!(hold_steady_core::food::FoodClass::Pork.words(), "pork and game");
    /// ```
    #[must_use]
    pub const fn words(self) -> &'static str {
        match self {
            Self::Beef => "whole beef and veal",
            Self::Lamb => "whole lamb",
            Self::Ground => "ground, mixed or stuffed: the centre must be pasteurised",
            Self::Pork => "pork and game",
            Self::Duck => "duck and goose breast",
            Self::Poultry => "poultry: the centre must be pasteurised",
            Self::Fish => "fish: parasites count",
            Self::Crustacean => "crustaceans, scallops, squid and octopus",
            Self::Bivalve => "bivalves: 90 °C for 90 s at the core",
            Self::ShellEgg => "egg in its shell",
            Self::EggMixture => "pooled egg: the centre must be pasteurised",
            Self::Ferment => "live-culture ferment of milk",
            Self::KidneyBean => "dried beans of the kidney bean's kind, red or white: boiled hard first",
            Self::Plant => "vegetables and fruit",
        }
    }

    /// Whether a single cooking temperature of a code makes it “cooked” (meat, fish, crustaceans).
    #[must_use]
    pub(crate) const fn may_be_cooked_whole(self) -> bool {
        matches!(self, Self::Beef | Self::Lamb | Self::Ground | Self::Pork | Self::Fish | Self::Crustacean)
    }

    /// Whether the food comes whole or pierced: then saying nothing counts as pierced.
    #[must_use]
    pub(crate) const fn can_be_pierced(self) -> bool {
        matches!(self, Self::Beef | Self::Lamb | Self::Pork | Self::Duck | Self::Poultry)
    }

    /// Whether a cook is asked: where the answer can change the verdict. Poultry must be pasteurised either
    /// way.
    ///
    /// ```
    /// use hold_steady_core::food::FoodClass;
    /// assert!(FoodClass::Beef.asks_if_intact() && !FoodClass::Poultry.asks_if_intact());
    /// ```
    #[must_use]
    pub const fn asks_if_intact(self) -> bool {
        matches!(self, Self::Beef | Self::Lamb | Self::Pork | Self::Duck)
    }
}

/// Why a kind of fish need not be frozen against parasites.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "kebab-case")]
pub enum FishKind {
    /// A tuna of the genus *Thunnus* that the code lists.
    Tuna,
    /// Farmed and fed on pellets, where it was: wild fish of the same kind is not exempt.
    Farmed,
}

/// What sets a food apart from others of its class.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Deserialize)]
#[serde(default, deny_unknown_fields)]
pub struct Traits {
    /// Game that may have been shot in the wild.
    pub wild_game: bool,
    /// Stuffed.
    pub stuffed: bool,
    /// Forms histamine when it stands warm.
    pub histamine: bool,
    /// A scallop's adductor.
    pub scallop: bool,
    /// A whole roast.
    pub whole_roast: bool,
    /// Bones in it: heated from the outside in to half of what is left beside them.
    pub bone: bool,
    /// Why it may be exempt from freezing against parasites.
    pub exempt: Option<FishKind>,
}
