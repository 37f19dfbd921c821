import 'package:flutter/widgets.dart';
import 'saltmarsh_signs.dart';

const quay = [Icon(SaltmarshSigns.pier), Icon(SaltmarshSigns.bollard)];
