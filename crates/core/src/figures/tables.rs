//! The tables: one file of `data/` each, a field a figure.

use std::sync::LazyLock;

use serde::Deserialize;

use super::Figure;

table! {
    /// What the sear is computed with, besides what it is seared on.
    Searing, searing, "sear.json":
    /// Water that clings to a face not dried, as a film.
    film_wet_mm,
    /// Water left on a face patted dry, as a film.
    film_dry_mm,
    /// A layer with less than this share of its water is dry: crust.
    dry_share,
    /// What dry crust conducts, W/mK.
    dry_w_mk,
    /// Heat that boils a kilogram of water away at 100 °C.
    latent_j_kg,
    /// Diffusivity of vapour through crust.
    vapour_m2_s,
    /// Still air over a face, without radiation, W/m²K.
    air_w_m2k,
    /// A board under a face, W/m²K.
    board_w_m2k,
    /// A face wrapped, W/m²K; nothing evaporates from it.
    wrapped_w_m2k,
    /// Evaporation of a wet face in air, as a share of that of open water.
    wetness,
    /// Emissivity of meat, wet or browned.
    emissivity,
    /// Outer layer that decides whether a face is dry.
    outer_mm,
    /// What a dry face takes up from a pan, as a share of a wet one.
    dry_contact_share,
    /// A bag stirred in ice water, W/m²K.
    ice_w_m2k,
    /// Browning index: a minute at this surface temperature counts one.
    browning_c,
    /// Browning goes ten times as fast so much hotter.
    browning_decade_k,
    /// A browning index beyond this says nothing more: it is charred.
    browning_most,
    /// Water in skin and the fat under it, kg/m³.
    fat_water_kg_m3,
    /// Heat capacity of skin and fat without their water, J/m³K.
    fat_solids_j_m3k,
    /// What skin and fat conduct, W/mK.
    fat_w_mk,
    /// Foaming fat spooned over a face, W/m²K.
    baste_w_m2k,
    /// Foaming fat as it is spooned, °C.
    baste_c,
    /// A proposal is to bring the centre so near to what is wanted.
    lands_within_k,
    /// Between proposals, a band so much thinner is worth more minutes.
    band_worth_mm,
    /// Over this no oil at all.
    oil_none_c,
    /// Most of the crust is wanted no hotter than this; what goes beyond it many call char.
    crust_wanted_c,
    /// A surface is dark from here.
    dark_c,
    /// A surface chars from here.
    char_c,
    /// A layer that was ever hotter is counted as the band, where nothing else is said.
    overcooked_c,
    /// The band of a finish is what was ever so much hotter than the centre is wanted.
    band_over_k,
    /// A finish is to bring the centre so near to what is wanted.
    peak_within_k,
    /// Longest in ice water before a sear.
    ice_most_s,
    /// Hanging, at least.
    hang_from_min,
    /// Hanging, at most.
    hang_until_min,
    /// Frying oil is never hotter.
    oil_most_c,
    /// Refrigerator air.
    refrigerator_c,
    /// Air by the stove.
    room_c,
    /// The gauge in a lid shows so much less than a hot surface under it.
    lid_low_k,
    /// And so much less than the air at the grate.
    grate_low_k,
    /// A low oven, before or after a sear.
    low_oven_c,
}

table! {
    /// The limits of the rules of safety.
    Limits, limits, "limits.json":
    /// No reduction is credited below this, °C.
    no_kill_below_c,
    /// *Clostridium perfringens* grows up to here, °C.
    growth_stops_c,
    /// A bath colder than this is never pasteurising, °C.
    lowest_hold_c,
    /// Lower end of the growth clock, °C.
    zone_low_c,
    /// The upper end of the growth clock is never lower, °C.
    zone_high_floor_c,
    /// The upper end stands this far under the set point, K.
    zone_below_set_k,
    /// Longest time on the clock without a pasteurising hold, minutes.
    clock_limit_min,
    /// Lower end of the warming limit, °C.
    come_up_low_c,
    /// Longest warming, minutes.
    come_up_limit_min,
    /// Growth is fastest from here, °C,
    warm_low_c,
    /// up to here, °C.
    warm_high_c,
    /// How far beyond both ends of it is counted.
    warm_margin_k,
    /// Poultry and stuffed food are cooked by this, at once.
    poultry_c,
    /// What is kept at home has its last day so many days after the one it was cooked on, that one counted.
    home_days,
    /// Longest time in that range without a pasteurising hold, minutes.
    warm_limit_min,
    /// The same before a pasteurising hold is done, minutes.
    warm_hold_limit_min,
    /// Longest time under the growth limit after the kill for guests at risk, minutes.
    after_kill_every_min,
    /// The same for anyone, minutes.
    after_kill_most_min,
    /// Food held hot at this or more may wait, °C.
    hot_hold_c,
    /// A hot hold is proved by a reading at least this often, minutes.
    hot_check_min,
    /// A piece warmer than this was out of the refrigerator, °C.
    out_above_c,
    /// Minutes out that are counted when nobody says how long.
    out_unsaid_min,
    /// The clock's limit for fish that form histamine, minutes.
    histamine_limit_min,
    /// Heated through: within this of the bath, K.
    through_within_k,
    /// Time tables are run on this far below their first row, K.
    table_reach_k,
    /// What every outer face of an undercooked steak must reach, °C.
    sear_outside_c,
    /// Reheated food is back at this, °C.
    reheat_core_c,
    /// The same for whole roasts, °C.
    reheat_roast_c,
    /// Longest reheating, minutes.
    reheat_limit_min,
    /// Coldest bath of a ferment, °C.
    ferment_low_c,
    /// Hottest bath of a ferment, °C.
    ferment_high_c,
    /// Shortest ferment, minutes.
    ferment_from_min,
    /// Longest ferment, minutes.
    ferment_until_min,
    /// Milk is heated to this first, °C.
    ferment_scald_c,
    /// Sour enough: pH.
    ferment_ph,
    /// Beans are boiled hard this long first, minutes.
    beans_boil_min,
    /// Bivalves: core, °C.
    bivalve_c,
    /// Bivalves: for how long, seconds.
    bivalve_s,
    /// A whole piece is cooked: core, °C.
    cooked_whole_c,
    /// A whole piece is cooked: for how long, seconds.
    cooked_whole_s,
    /// A ground, bladed or injected piece is cooked: core, °C.
    cooked_pierced_c,
    /// A ground, bladed or injected piece is cooked: for how long, seconds.
    cooked_pierced_s,
    /// Fish not frozen for parasites: core, °C.
    fish_core_c,
    /// Fish not frozen for parasites: for how long, seconds.
    fish_core_s,
    /// Crustaceans served at once: core, °C.
    crustacean_core_c,
    /// Coldest bath for crustaceans served at once, °C.
    crustacean_bath_c,
    /// Scallop served at once: core, °C.
    scallop_core_c,
    /// Coldest bath for scallop served at once, °C.
    scallop_bath_c,
    /// Soft eggs served to order: core, °C.
    egg_core_c,
    /// Coldest bath for soft eggs served to order, °C.
    egg_bath_c,
    /// or this at the core, °C,
    egg_held_c,
    /// for this long, seconds.
    egg_held_s,
}

table! {
    /// The figures of cooling, and of a bath left alone.
    Cooling, cooling, "cooling.json":
    /// Cooling counts from here.
    stage_1_from_c,
    /// First stage ends here.
    stage_1_to_c,
    /// Longest first stage.
    stage_1_min,
    /// Cooling ends here.
    stage_2_to_c,
    /// A freezer is to be no warmer.
    freezer_c,
    /// Longest cooling in all.
    stage_2_min,
    /// Heat that melts a kilogram of ice.
    ice_latent_kj_kg,
    /// Readings further apart than this leave a gap.
    log_gap_min,
    /// How fast an unheated, uncovered bath is taken to cool in a gap.
    bath_time_constant_min,
    /// Room around a bath, where nothing is said.
    room_c,
    /// Conductivity of air in a pocket.
    air_w_mk,
    /// Tap water that covers a kilogram of bags or jars.
    ice_water_l_per_kg,
    /// Water from the cold tap.
    tap_c,
    /// Specific heat of water.
    water_kj_kgk,
    /// More ice than melts by the sum, for what the room adds and what must be left floating.
    ice_margin,
}

table! {
    /// The figures of the kitchen routine.
    Routine, routine, "routine.json":
    /// Time to bring a bath up from hot tap water.
    preheat_min,
    /// Time to fill a vessel.
    filling_min,
    /// Glass of a jar.
    jar_wall_mm,
    /// Difference between glass and water that jars stand.
    jar_shock_k,
    /// Glass from the shelf.
    jar_glass_c,
    /// Room under a jar's rim.
    jar_head_mm,
    /// How long after the drop one looks whether it floats.
    check_min,
}

table! {
    /// The figures of the work before the bath.
    Preparing, preparing, "prep.json":
    /// Salt by weight of the food, per cent.
    salt_percent,
    /// The same for fish, shellfish, vegetables and fruit, per cent.
    salt_percent_light,
    /// Most that is taken for a seasoning rather than a cure, per cent.
    salt_percent_most,
    /// Longest bath before which salt goes on, minutes.
    salt_before_until_min,
    /// How long before the drop salt goes on, minutes.
    salt_stands_min,
    /// How long before the drop it is bagged, minutes.
    bagging_min,
    /// Diffusion of salt in raw meat and fish at 5 °C, m²/s.
    diffusion_m2_s,
    /// Activation of that diffusion, kJ/mol.
    diffusion_kj_mol,
    /// Baths from which on a second bag is asked for, minutes.
    double_from_min,
    /// Baths from which on a second bag is asked for, °C.
    double_from_c,
    /// Weight of one bag, g.
    bag_g,
    /// Density of bag film, g/cm³.
    bag_g_cm3,
    /// Baths from which on vegetables and fruit give off gas, °C.
    gas_from_c,
    /// Gas they then give off, ml per kg.
    gas_ml_kg,
    /// Density of ballast, g/cm³: steel.
    ballast_g_cm3,
    /// How much more ballast than just sinks it.
    ballast_margin,
    /// Baths from which on a lid is asked for, minutes.
    long_bath_min,
    /// Kelvin for which an aromatic grows strong twice as fast.
    aromatics_double_k,
    /// Bath for which the aromatics' times are given, °C.
    aromatics_given_c,
    /// Temperature of the diffusion of salt given here, °C.
    diffusion_given_c,
}

table! {
    /// How far what is said may be off, where a kitchen says nothing else.
    Spreads, spreads, "spreads.json":
    /// How far a measured thickness may be off.
    thickness_mm,
    /// How far a circulator may be off.
    bath_k,
    /// Share by which the conductivity may be lower than the parallel mixing rule, an upper bound, makes it.
    conductivity_down,
}

table! {
    /// What is offered as a way out, and how finely.
    Offers, offers, "offers.json":
    /// Hottest bath offered as a way out, °C.
    hottest_c,
    /// Thinnest piece offered as a way out, mm.
    thinnest_mm,
    /// Step of the baths offered, rounded up, K.
    bath_step_k,
    /// Step of the baths offered for a piece served undercooked, K.
    undercooked_step_k,
    /// Step of the thicknesses offered, rounded down, mm.
    thickness_step_mm,
    /// How far above their core's temperature the bath for bivalves is set, K.
    bivalves_hotter_k,
    /// How far above its temperature for raw use the white of an egg begins to cloud, K.
    raw_egg_above_k,
    /// Surroundings colder than this are taken for ice water, °C.
    ice_c,
    /// How far the bath is moved for each mark a centre was off the last time, K.
    last_time_step_k,
}

table! {
    /// The figures of the bath bench.
    Bench, bench, "bench.json":
    /// Heat passing from an open surface to the air, what is radiated with it, W/m²K.
    film_w_m2k,
    /// Factor of the air that rises by itself over a warm level surface.
    rising,
    /// In a draught water evaporates up to so many times as fast as in still air.
    draught,
    /// Lewis number of water vapour in air.
    lewis,
    /// Relative humidity of a kitchen, from 0 to 1.
    humidity,
    /// Share of the evaporation that a lid leaves.
    lid_share,
    /// Share of the evaporation that foil leaves.
    foil_share,
    /// Share of the evaporation that floating balls leave.
    balls_share,
    /// Heat passing through a cover, W/m²K.
    cover_w_m2k,
    /// What a vessel loses besides evaporation, where nothing is known of it, W/K.
    loss_w_k,
    /// Specific heat of food that is not frozen, kJ/kgK.
    food_kj_kgk,
    /// Specific heat of frozen food, kJ/kgK.
    frozen_kj_kgk,
    /// Heat that thaws a kilogram of food, kJ/kg.
    thaw_kj_kg,
    /// Density of food, kg/l.
    food_kg_l,
    /// Thickness of the pieces of a load, mm.
    load_mm,
    /// A bath has recovered when it is this near its setting, K.
    recovered_k,
    /// Water from the hot tap, °C.
    hot_tap_c,
    /// Water from a kettle, °C.
    kettle_c,
    /// What a kettle holds, l.
    kettle_l,
    /// Water from here on scalds in seconds, °C.
    scald_c,
    /// How far an unchecked thermometer may read too high, K.
    unchecked_k,
    /// How close to the bath a check must be to count, K.
    checked_within_k,
    /// How long a check counts, days.
    check_lasts_days,
    /// The most a thermometer may be off, K.
    most_offset_k,
    /// A reading agrees with the setting within this.
    agrees_k,
    /// How deep a load may draw the water down where nothing is known of the vessel.
    usual_dip_k,
    /// and how long it takes to come back then.
    usual_dip_min,
    /// A device is lost after three of its own intervals, and no later than this.
    silent_most_min,
    /// Water that can only have fallen earns kill between two readings for so long.
    fall_credit_min,
    /// Levels that water nobody saw may have fallen to and stayed at, for growth: the first.
    level_1_c,
    /// The second.
    level_2_c,
    /// The third.
    level_3_c,
    /// The fourth.
    level_4_c,
    /// The fifth.
    level_5_c,
    /// The sixth.
    level_6_c,
    /// No kill is earned further into a gap than this, minutes.
    gap_credit_min,
    /// How many times its loss a vessel is taken to lose that was not learned.
    loss_unsure,
    /// The same, where it was learned.
    loss_learned_unsure,
    /// Water without a heater is read at least this often, minutes,
    look_after_min,
    /// and no more often than this, minutes.
    look_first_min,
    /// Water without a heater is kept this far above what the piece needs, K.
    margin_k,
    /// How long a lid is open for a look, minutes.
    lid_open_min,
    /// How far outside what was learned it is used, K.
    extrapolate_k,
    /// Nothing is learned of readings that lie further than this from what is fitted to them, K.
    learn_residual_k,
    /// Nothing is learned that is known no better than within this share.
    learn_spread,
    /// Nor of what changes along the way by more than this share to either side.
    learn_steady,
    /// How well the litres are known, as a share.
    learn_litres,
    /// How many times as fast as into still air water evaporates, most likely.
    learn_vapour,
    /// and how far that may be off.
    learn_vapour_sd,
    /// How far what the shape says of a loss may be off, as a share.
    learn_shape_sd,
    /// The long cook for which topping up is worked out, minutes.
    cook_long_min,
}
