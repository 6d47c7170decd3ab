#pragma once
// Where the stitches of a list that was made of another come from, and why others went: what
// conservation (docs/measures.md) is checked by. At most 5 bytes a record.

#include "thread/stitch_list.h"

#include <optional>

namespace rapt {

/// Why a record is in a result and in no input.
enum class NewRecord : std::uint8_t {
    tie,      ///< holds the end of a thread
    overlap,  ///< both sides of a cut sew it; the other side has the record itself
    cutEnd,   ///< where a cut ends the thread, or begins it anew
    move,     ///< a jump or a trim that leads to what is sewn next
    laid,     ///< laid afresh: rows, underlay, travel
    unstated, ///< made before origins were kept
};

/// Why a record of the input is not in the result.
enum class WhyGone : std::uint8_t {
    no,        ///< it is there
    hidden,    ///< under what is sewn later
    leftOut,   ///< a thread run that is not to be sewn
    otherPart, ///< in another part of the same piece
    laidAfresh,
};

/// Origins of all records of one list. An operation adds to it record by record, as it writes.
class Origins {
public:
    /// The record with this number in the input.
    void keep(std::size_t record) { of.push_back(static_cast<std::uint32_t>(record)); }
    /// A record that the input does not have.
    void make(NewRecord why) { of.push_back(firstMade + static_cast<std::uint32_t>(why)); }
    /// Takes back the last record.
    void drop() { of.pop_back(); }
    /// The record that another list of the same input has at a place.
    void copy(const Origins& other, std::size_t record) { of.push_back(other.of[record]); }

    /// How many records of the result are known.
    std::size_t size() const { return of.size(); }
    /// Number of the input's record; nothing for what is new.
    std::optional<std::size_t> at(std::size_t record) const {
        if (of[record] >= firstMade) return std::nullopt;
        return of[record];
    }
    /// Why a record is new; nothing for what the input has.
    std::optional<NewRecord> madeAt(std::size_t record) const {
        if (of[record] < firstMade) return std::nullopt;
        return static_cast<NewRecord>(of[record] - firstMade);
    }
    /// A record that another part of the same input has, too.
    void remake(std::size_t record, NewRecord why) {
        of[record] = firstMade + static_cast<std::uint32_t>(why);
    }

    /// Says of all input stitches that are in no record so far why they went.
    void explain(const StitchList& input, WhyGone why);
    /// Why an input record is not in the result; `no` also for what nothing was said of.
    WhyGone goneAt(std::size_t inputRecord) const {
        return inputRecord < gone.size() ? gone[inputRecord] : WhyGone::no;
    }

    /// Takes over what another result of the same input says of what went.
    void inheritGone(const Origins& other) { gone = other.gone; }

    /// These origins seen from the input of the operation before: `earlier` made the list that this
    /// one was made of.
    Origins after(const Origins& earlier) const;

private:
    static constexpr std::uint32_t firstMade = 0xFFFFFF00u;
    std::vector<std::uint32_t> of;
    std::vector<WhyGone> gone; ///< by input record; empty: nothing went
};

/// A list with the origins of its records. A plain list to all who do not ask for them.
struct TracedList : StitchList {
    Origins origins;

    /// Adds a record that the input has.
    void keep(const Stitch& s, std::size_t record) {
        stitches.push_back(s);
        origins.keep(record);
    }
    /// Adds a record that it does not have.
    void make(const Stitch& s, NewRecord why) {
        stitches.push_back(s);
        origins.make(why);
    }
    /// Adds all records of another list made of the same input.
    void append(const TracedList& other);
    /// Takes back the last record.
    void drop() {
        stitches.pop_back();
        origins.drop();
    }
};

/// An empty result with the name, threads and remarks of its input.
TracedList tracedLike(const StitchList& input);
/// Every record as it is.
TracedList tracedWhole(StitchList list);

/// The law of conservation for parts made of one list: every penetration of the input is in exactly
/// one of them at its own place and in its own thread, or the operation says why it went; every
/// penetration of a part is one of the input's or says why it is new. Nothing if it holds; else
/// what does not, with the record.
std::optional<std::string> brokenAccount(const StitchList& input,
                                         const std::vector<const TracedList*>& parts);

/// The list without jumps and trims that lead nowhere: of the moves before a penetration only the
/// last one stays, and none after the last penetration but a closing trim. Trims and stops stand
/// where the needle is.
TracedList withoutIdleMoves(TracedList list);

} // namespace rapt
