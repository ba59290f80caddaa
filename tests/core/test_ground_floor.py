"""The open format stands on the ground floor: whoever reads a shot loads no geometry."""

import json
import subprocess
import sys

ASK = "import json, sys; import zevlo.core.shot, zevlo.core.shot.patch; print(json.dumps(sorted(sys.modules)))"


def test_importing_the_shot_loads_its_settings_and_nothing_of_geometry():
    loaded = json.loads(subprocess.run([sys.executable, "-c", ASK], check=True, capture_output=True, text=True).stdout)
    own = {name for name in loaded if name.split(".")[0] == "zevlo"}
    assert len(own) <= 20
    assert {name for name in own if not name.startswith("zevlo.core.shot")} == {
        "zevlo",
        "zevlo.core",
        "zevlo.core.bases",
        "zevlo.core.refused",
    }
    assert not {"numpy", "numba", "shapely", "scipy", "embreex", "trimesh"} & {name.split(".")[0] for name in loaded}
