//! The numbers of what is in *Path upkeep*. They are fixed, since its parts name each other.

use westerfall_core::id::{FieldId, GroupId, OptionId, TableId};

/// The groups of the team, in the order in which they are made.
pub(crate) const WARDENS: GroupId = GroupId::new(1).expect("not zero");
pub(crate) const OFFICE: GroupId = GroupId::new(2).expect("not zero");

pub(crate) const FORM: u32 = 120;
pub(crate) const AUTOMATION: u32 = 121;
pub(crate) const LATE: u32 = 450;
pub(crate) const MADE_GOOD: u32 = 451;
pub(crate) const PAGE: u32 = 124;

pub(crate) const fn table(n: u32) -> TableId {
    TableId::new(n).expect("not zero")
}

pub(crate) const fn field(n: u32) -> FieldId {
    FieldId::new(n).expect("not zero")
}

pub(crate) const fn option(n: u32) -> OptionId {
    OptionId::new(n).expect("not zero")
}

macro_rules! fields {
    ($module:ident, $table:expr, { $($name:ident = $number:expr),* $(,)? }) => {
        pub(crate) mod $module {
            use super::{FieldId, TableId};
            pub(crate) const TABLE: TableId = super::table($table);
            $(pub(crate) const $name: FieldId = super::field($number);)*
        }
    };
}

fields!(districts, 1, {
    NAME = 10, WARDEN = 11, BUDGET = 12, SECTIONS = 13, CREATED_AT = 14, CREATED_BY = 15, CHANGED_AT = 16, CHANGED_BY = 17,
    RATE = 200, OPEN = 201, SPENT = 202, ORDERS = 203, SECTION_COUNT = 204, LEFT = 205, AVERAGE_LENGTH = 206, VOLUNTEERS = 207,
});
fields!(sections, 2, {
    NUMBER = 20, NAME = 21, DISTRICT = 22, LENGTH = 23, SURFACE = 24, INSPECTED = 25, PICTURE = 26, FAULTS = 27, WARDEN = 28,
    CREATED_AT = 29, CREATED_BY = 30, CHANGED_AT = 31, CHANGED_BY = 32,
    DIFFICULTY = 210, SUB_SURFACE = 211, NEXT = 212, PLACE = 213, OPEN = 214, PARTIES = 215,
});
fields!(faults, 3, {
    NUMBER = 40, TITLE = 41, SECTION = 42, DISTRICT = 43, WARDEN = 44, KIND = 45, SEVERITY = 46, STATUS = 47, REPORTED = 48, DUE = 49,
    HOURS = 50, REPORTER = 51, MAIL = 52, PHONE = 53, PICTURES = 54, DESCRIPTION = 55, CHECKED = 56,
    CREATED_AT = 57, CREATED_BY = 58, CHANGED_AT = 59, CHANGED_BY = 60,
    DAYS_OPEN = 220, ORDERS = 221, PLANNED = 222, PARISH_HELPS = 223, PARISH_NOTE = 224,
});
fields!(materials, 4, {
    NAME = 230, UNIT = 231, PRICE = 232, SUPPLIER = 233, STOCK = 234, LINES = 235, USED = 236,
    CREATED_AT = 237, CREATED_BY = 238, CHANGED_AT = 239, CHANGED_BY = 240,
});
fields!(lines, 5, {
    WHAT = 250, ORDER = 251, MATERIAL = 252, QUANTITY = 253, PRICE = 254, COST = 255,
    CREATED_AT = 256, CREATED_BY = 257, CHANGED_AT = 258, CHANGED_BY = 259,
});
fields!(orders, 6, {
    NUMBER = 270, FAULTS = 271, DISTRICT = 272, LEADER = 273, PLANNED = 274, STARTED = 275, FINISHED = 276, HOURS = 277, RATE = 278,
    LINES = 279, MATERIALS = 280, TOTAL = 281, APPROVED = 282,
    CREATED_AT = 283, CREATED_BY = 284, CHANGED_AT = 285, CHANGED_BY = 286, BEGINS = 287,
});

fields!(volunteers, 7, {
    NAME = 330, MAIL = 331, PHONE = 332, DISTRICT = 333, SKILLS = 334, JOINED = 335, INDUCTED = 336, ACTIVE = 337, PARTIES = 338,
    HOURS = 339, PICTURE = 340,
    CREATED_AT = 341, CREATED_BY = 342, CHANGED_AT = 343, CHANGED_BY = 344,
});
fields!(parties, 8, {
    NUMBER = 350, WHAT = 351, WHEN = 352, LEADER = 353, SECTIONS = 354, VOLUNTEERS = 355, STATUS = 356, EACH = 357, HOURS = 358,
    NOTES = 359,
    CREATED_AT = 360, CREATED_BY = 361, CHANGED_AT = 362, CHANGED_BY = 363,
});

pub(crate) const OPTIONS: u32 = 70;
pub(crate) const KINDS: [OptionId; 6] = [option(70), option(71), option(72), option(73), option(74), option(75)];
pub(crate) const SEVERITIES: [OptionId; 4] = [option(76), option(77), option(78), option(79)];
pub(crate) const STATUSES: [OptionId; 6] = [option(80), option(81), option(82), option(83), option(84), option(85)];
/// Whether a parish can help: yes, with tools, no.
pub(crate) const PARISH_HELPS: [OptionId; 3] = [option(225), option(226), option(227)];
