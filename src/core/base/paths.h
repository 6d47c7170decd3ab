#pragma once
// Where the application's own data and the user's data are on this machine.

#include <string>

namespace rapt {

/// The folder that holds hoops.json, faces/ and demo/: $RAPT_DATA if set, else beside an installed
/// program, else in the source tree that the program was built from. Empty if none is found.
std::string dataFolder();

/// $XDG_DATA_HOME/rapt-thimble (by default ~/.local/share/rapt-thimble); it may not exist yet.
std::string userDataFolder();

/// Where the machine of that id listens: $XDG_RUNTIME_DIR/rapt-thimble/ID.sock, or a folder of the
/// user's own below /tmp.
std::string machineSocket(const std::string& machine);

/// True for a folder of this user's that nobody else may look into; not for a link to one.
bool isOwnFolder(const std::string& folder);

/// True if the other end of a connected local socket is a process of this user's.
bool isOwnPeer(int socket);

} // namespace rapt
