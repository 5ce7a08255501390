"""What a plan's queries and addresses may use: lists of functions by the engine that answers, and what its reader allows."""

from __future__ import annotations

from collections.abc import Collection, Iterator
from contextlib import contextmanager
from contextvars import ContextVar
from typing import NamedTuple

from facetine.messages.errors import FacetineError, OptionError, nearest, told


class Allowed(NamedTuple):
    """What whoever runs a plan allows it, beyond what every plan may do."""

    functions: frozenset[str] = frozenset()
    """Names of functions, in small letters, that its queries may call besides those of the lists."""
    variables: frozenset[str] = frozenset()
    """Names of variables of the environment that may hold the password of a database's address."""
    local: bool = False
    """Whether its addresses of the web may be those of this machine and its private network."""


ASKED_APART: ContextVar[bool] = ContextVar("facetine_asked_apart", default=False)
"""Whether expressions are evaluated in a process of their own: they are what a plan says, and nobody has read it."""


@contextmanager
def apart_too() -> Iterator[None]:
    """Has expressions evaluated apart meanwhile."""
    before = ASKED_APART.get()
    ASKED_APART.set(True)
    try:
        yield
    finally:
        # No token: a generator may go on in another context than that in which it began.
        ASKED_APART.set(before)


def allowed_of(
    where: str,
    *,
    allow_functions: list[str] | None = None,
    password_env: list[str] | None = None,
    allow_local_addresses: bool = False,
) -> Allowed:
    """What is allowed, checked.

    Raises:
        OptionError: A name is none.
    """
    for option, names in (("allow_functions", allow_functions or []), ("password_env", password_env or [])):
        given: object = names
        if not isinstance(given, list | tuple) or not all(isinstance(name, str) and name.isidentifier() for name in given):
            raise OptionError(where, f"{option} is a list of names, not {told(names)}", f'such as {option}=["cellar"]')
    if not isinstance(allow_local_addresses, bool):
        raise OptionError(where, f"allow_local_addresses is True or False, not {told(allow_local_addresses)}")
    return Allowed(
        frozenset(name.lower() for name in allow_functions or ()), frozenset(password_env or ()), allow_local_addresses
    )


def _names(text: str) -> frozenset[str]:
    return frozenset(text.split())


_MATHEMATICS = _names(
    "abs acos acosh asin asinh atan atan2 atanh cbrt ceil ceiling cos cosh cot degrees exp factorial floor gcd greatest lcm "
    "least ln log log10 log2 mod pi pow power radians round sign sin sinh sqrt tan tanh trunc"
)
_TEXT = _names(
    "ascii bit_length char_length character_length chr concat concat_ws initcap left length lower lpad ltrim md5 "
    "octet_length overlay position regexp_replace repeat replace reverse right rpad rtrim split_part starts_with strpos "
    "substr substring translate trim upper"
)
_CHOICE = _names("cast coalesce if ifnull nullif case try_cast")
_AGGREGATES = _names(
    "any_value array_agg avg bit_and bit_or bool_and bool_or corr count covar_pop covar_samp every grouping max median min "
    "mode percentile_cont percentile_disc regr_avgx regr_avgy regr_count regr_intercept regr_r2 regr_slope regr_sxx regr_sxy "
    "regr_syy stddev stddev_pop stddev_samp string_agg sum var_pop var_samp variance"
)
_WINDOWS = _names("cume_dist dense_rank first_value lag last_value lead nth_value ntile percent_rank rank row_number")

_COMMON = _MATHEMATICS | _TEXT | _CHOICE | _AGGREGATES | _WINDOWS

EXPRESSIONS = _COMMON | _names(
    # Numbers.
    "bin bit_count even fdiv fmod gamma greatest_common_divisor hex isfinite isinf isnan least_common_multiple lgamma "
    "nextafter round_even roundbankers signbit to_base to_binary to_hex unbin unhex xor add subtract multiply divide "
    # Texts.
    "base64 contains damerau_levenshtein decode editdist3 encode ends_with format format_bytes from_base64 from_binary "
    "from_hex hamming instr jaccard jaro_similarity jaro_winkler_similarity lcase left_grapheme length_grapheme "
    "levenshtein like_escape ilike_escape not_like_escape not_ilike_escape mismatches nfc_normalize ord parse_dirname "
    "parse_filename prefix printf regexp_escape regexp_extract regexp_extract_all regexp_full_match regexp_matches "
    "regexp_split_to_array regexp_split_to_table right_grapheme sha1 sha256 split str_split str_split_regex string_split "
    "string_split_regex string_to_array strip_accents strlen substring_grapheme suffix to_base64 ucase unicode url_decode "
    "url_encode hash "
    # Times. An age is told from another time, never from today.
    "age/2 century date_add date_diff date_part date_sub date_trunc datediff datepart datesub datetrunc day dayname "
    "dayofmonth dayofweek dayofyear days_in_month decade epoch epoch_ms epoch_ns epoch_us era hour isodow isoyear julian "
    "last_day make_date make_time make_timestamp make_timestamp_ms make_timestamp_ns microsecond millennium millisecond "
    "minute month monthname nanosecond quarter second strftime strptime try_strptime time_bucket timezone to_centuries "
    "to_days to_decades to_hours to_microseconds to_millennia to_milliseconds to_minutes to_months to_quarters to_seconds "
    "to_timestamp to_weeks to_years week weekday weekofyear year yearweek "
    # Lists, structures, maps and JSON.
    "aggregate apply array_append array_cat array_concat array_contains array_distinct array_extract array_filter array_has "
    "array_has_all array_has_any array_indexof array_length array_position array_prepend array_reverse array_slice "
    "array_sort array_to_string array_transform array_unique array_value cardinality element_at filter flatten "
    "json json_array json_array_length json_contains json_exists json_extract json_extract_path json_extract_path_text "
    "json_extract_string json_keys json_object json_quote json_structure json_type json_valid json_value len list_aggregate "
    "list_any_value list_append list_apply list_avg list_concat list_contains list_count list_distinct list_element "
    "list_extract list_filter list_first list_has list_has_all list_has_any list_indexof list_intersect list_last list_max "
    "list_median list_min list_mode list_pack list_position list_prepend list_product list_reduce list_resize list_reverse "
    "list_reverse_sort list_select list_slice list_sort list_stddev_pop list_stddev_samp list_string_agg list_sum "
    "list_transform list_unique list_value list_var_pop list_var_samp list_where list_zip map map_contains map_entries "
    "map_extract map_extract_value map_from_entries map_keys map_values row struct_extract struct_insert struct_pack "
    "to_json typeof unnest "
    # What sums up rows, and windows over them.
    "approx_count_distinct arbitrary arg_max arg_max_null arg_min arg_min_null argmax argmin count_if count_star countif "
    "entropy favg first fsum geomean geometric_mean group_concat histogram kahan_sum kurtosis kurtosis_pop last list listagg "
    "mad max_by mean min_by product quantile quantile_cont quantile_disc sem skewness sumkahan wavg weighted_avg fill "
    # What makes rows.
    "generate_series range generate_subscripts"
)  # fmt: skip
"""Of DuckDB, which answers expressions and the queries over files and tables; "age/2" may be called with two values alone."""

SQLITE = _COMMON | _names(
    "-> ->> char date datetime format glob group_concat hex iif json json_array json_array_length json_each json_extract "
    "json_group_array json_group_object json_insert json_object json_patch json_quote json_remove json_replace json_set "
    "json_tree json_type json_valid julianday like likelihood likely percentile printf quote soundex strftime time timediff "
    "total typeof unhex unicode unixepoch unlikely"
)
"""Of SQLite."""

SERVERS = _COMMON | _names(
    "age/2 date date_add date_bin date_diff date_format date_part date_sub date_trunc datediff dayname dayofmonth dayofweek "
    "dayofyear day extract format group_concat hour isnull json_array_length json_extract json_extract_path "
    "json_extract_path_text json_object jsonb_array_length jsonb_extract_path jsonb_extract_path_text last_day lcase len "
    "listagg make_date make_time make_timestamp microsecond minute month monthname quarter quote_literal regexp_instr "
    "regexp_like regexp_match regexp_substr second std str_to_date strftime timestamp timestamp_trunc timestampdiff to_char "
    "to_date to_number to_timestamp truncate ucase unnest week weekday weekofyear width_bucket year generate_series "
    "array_length array_to_string string_to_array"
)
"""Of all other databases."""


def must_be_allowed(
    name: str,
    values: int | None,
    known: Collection[str],
    where: str,
    more: Collection[str] | None = None,
    error: type[FacetineError] = OptionError,
) -> None:
    """Refuses a function that is not among those that may be called.

    Args:
        name: Its name, in any letters.
        values: With how many values it is called; None where that is not known.
        known: The list of the engine.
        where: Who asks, for the error.
        more: Names that are allowed besides; None where nobody can allow one.
        error: The class of the error.

    Raises:
        FacetineError: It is not among them.

    >>> must_be_allowed("ROUND", 2, EXPRESSIONS, "figure.keep")
    >>> must_be_allowed("rond", 1, EXPRESSIONS, "figure.keep")
    Traceback (most recent call last):
    facetine.messages.errors.OptionError: figure.keep: rond() is not among the functions that may be called. Did you mean 'round'?
      docs/functions.md lists them
    """
    called = name.lower()
    if called in known or called in (more or ()) or (values is not None and f"{called}/{values}" in known):
        return
    close = nearest(called, [one for one in known if "/" not in one])
    hint = f". Did you mean {close!r}?" if close else ""
    number = next((one.partition("/")[2] for one in known if one.startswith(f"{called}/")), "")
    if number:
        raise error(where, f"{called}() is called with {number} values", "with fewer it would ask for today's date")
    shown = told(called)[1:-1]
    way = "docs/functions.md lists them" + (f"; --allow-function {shown} allows it to a plan" if more is not None else "")
    raise error(where, f"{shown}() is not among the functions that may be called{hint}", way)
